import type { Profile } from '@orderly-glyph/core';
import type { Connector } from './connector.js';
import { FOLDER } from './folder.js';
import { HAND, JOINED } from './hand.js';
import { SFTP } from './sftp.js';
import { SHELF } from './shelf.js';
import { WEBDAV } from './webdav.js';

export { SHEET_NAME, sheetOf, type SheetFace } from './sheet.js';
export { PlaceError, type Allowed, type Connector, type RemoteFile, type There, type ThereFile } from './connector.js';

/** Every way of speaking to places. */
export const CONNECTORS: readonly Connector[] = [SHELF, FOLDER, SFTP, WEBDAV, HAND, JOINED];

/** The connector of a kind of place. @throws Error when there is none, which a test rules out */
export function connectorOf(profile: Profile, connectors: readonly Connector[] = CONNECTORS): Connector {
  const connector = connectors.find((c) => c.id === profile.connector);
  if (!connector) throw new Error(`There is no connector ${profile.connector}.`);
  return connector;
}
