import type { Profile } from '@orderly-glyph/core';
import type { Connector } from './connector.js';
import { FOLDER } from './folder.js';
import { WEBSITE } from './website.js';

export { PlaceError, type Allowed, type Connector, type RemoteFile } from './connector.js';

/** Every way of speaking to places. */
export const CONNECTORS: readonly Connector[] = [WEBSITE, FOLDER];

/** The connector of a kind of place. @throws Error when there is none, which a test rules out */
export function connectorOf(profile: Profile, connectors: readonly Connector[] = CONNECTORS): Connector {
  const connector = connectors.find((c) => c.id === profile.connector);
  if (!connector) throw new Error(`There is no connector ${profile.connector}.`);
  return connector;
}
