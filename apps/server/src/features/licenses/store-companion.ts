import { randomUUID } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import { putBlob } from '../../platform/blobs/blobs.js';
import type { Incoming, Outcome } from '../faces/index.js';
import type { CompanionReading } from './companion.js';
import { CompanionEntity } from './rows.js';

/** Keeps a text, receipt or picture with the bundle it came in, or (evidence) by itself. */
export async function storeCompanion(manager: EntityManager, incoming: Incoming, read: CompanionReading): Promise<Outcome> {
  const { workspaceId, bundleId, sha256 } = incoming;
  const companions = manager.getRepository(CompanionEntity);
  const known = bundleId ? await companions.findOneBy({ bundleId, sha256 }) : null;
  // A text at two places of a bundle counts at both, so each place keeps its own row; the bytes are kept once.
  if (known && known.name === incoming.path)
    return { state: 'companion', reason: 'The same as another file of this bundle; kept once.', companionId: known.id };
  const bytes = await incoming.bytes();
  await putBlob(manager, workspaceId, sha256, bytes);
  const id = randomUUID();
  const { kind, content, recognition, unread, findings } = read;
  await companions.insert({
    id,
    workspaceId,
    bundleId,
    sha256,
    name: incoming.path,
    bytes: bytes.length,
    kind,
    content,
    recognition,
    unread,
    findings,
  });
  const words = {
    terms: 'Terms',
    receipt: 'A receipt',
    readme: 'A note from the maker',
    picture: 'A picture',
    document: 'A document',
    other: 'Kept with the faces it came with',
  }[kind];
  const names = recognition ? [recognition, ...(recognition.others ?? [])].map((r) => r.name) : [];
  const named = recognition ? [] : (findings?.mentions ?? []).map((m) => m.name);
  const also = kind === 'terms' && findings?.receipt ? ' It is a receipt as well.' : '';
  return {
    state: 'companion',
    reason: `${words}${names.length > 0 ? `: ${names.join(', ')}` : ''}.${named.length > 0 ? ` It names the ${named.slice(0, 3).join(', ')}.` : ''}${also}${unread && kind !== 'picture' ? ` ${unread}` : ''}`,
    companionId: id,
  };
}
