import { createHash, randomUUID } from 'node:crypto';
import { fileBase, FORMAT_INFO, type PlaceRole, type Recipe } from '@orderly-glyph/core';
import { In, IsNull, type DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import { ComputeError } from '../../platform/compute/pool.js';
import { conflict, notFound } from '../../platform/http/problem.js';
import { JobEntity } from '../../platform/jobs/rows.js';
import type { JobControl } from '../../platform/jobs/runner.js';
import { Account } from '../accounts/index.js';
import { findFaces, type LeadRow } from '../faces/index.js';
import { connectorOf, PlaceError, sheetOf, type Allowed, type SheetFace } from './connectors/index.js';
import type { Foresight } from './foresee.js';
import { installingOf, installsAt, record, unsettled, withdrawPlan, type Installing } from './ledger.js';
import { chooseSending, filesOf, findPlace, profileOf } from './places.js';
import {
  DeliveryEntity,
  DeliveryItem,
  InstallEntity,
  Statement,
  type DeliveryItemRow,
  type DeliveryRow,
  type InstallEventKind,
  type InstallRow,
  type PlaceRow,
  type Seen,
} from './rows.js';

type Deps = Pick<Foresight, 'db' | 'compute' | 'allowed'>;

const hash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Whether a file is there, and the same: `other` bytes are somebody else's or damaged. @throws PlaceError */
export async function lookAt(
  place: PlaceRow,
  allowed: Allowed,
  installing: Pick<Installing, 'remoteName' | 'sha256'>,
): Promise<Exclude<Seen, 'unknown'>> {
  const bytes = await connectorOf(profileOf(place)).read(place, allowed, installing.remoteName);
  return bytes === null ? 'absent' : hash(bytes) === installing.sha256 ? 'same' : 'other';
}

/** Milliseconds before a place that said "not now" is asked again. */
const AGAIN_MS = [400, 1500];

/** Asks again where the place itself said that it would help later, and nothing was changed there. @throws PlaceError */
async function patiently<T>(work: () => Promise<T>): Promise<T> {
  for (const wait of AGAIN_MS)
    try {
      return await work();
    } catch (error) {
      if (!(error instanceof PlaceError && error.passing && error.kind !== 'unknown')) throw error;
      await new Promise((r) => setTimeout(r, wait));
    }
  return work();
}

/**
 * Carries a delivery out, family by family: all faces of a family come to lie there, or none of them and what was there before.
 * What an earlier try already installed is not sent again.
 */
export function deliveryWork(deps: Deps) {
  return async (control: JobControl): Promise<string> => {
    const { db } = deps;
    const { workspaceId } = control.row;
    const delivery = await db.getRepository(DeliveryEntity).findOneByOrFail({ id: control.row.subjectId });
    const place = await findPlace(db, workspaceId, delivery.placeId);
    const items = await db.getRepository(DeliveryItem).find({ where: { deliveryId: delivery.id }, order: { position: 'ASC' } });
    const by = (await db.getRepository(Account).findOneBy({ id: delivery.createdBy }))?.name ?? '';
    let done = 0;
    const progress = (message: string): Promise<unknown> => control.progress(done, items.length, message);
    if (delivery.errand === 'withdraw') {
      for (const item of items) {
        await progress('Taking off');
        if (item.state === 'waiting' || item.state === 'unknown') await withdrawOne(deps, place, item, by);
        done++;
      }
    } else {
      const leads = await findFaces(
        db,
        workspaceId,
        items.map((i) => i.faceId),
      );
      const families = new Map<string, { item: DeliveryItemRow; lead: LeadRow }[]>();
      items.forEach((item, i) => {
        const lead = leads[i]!;
        families.set(lead.familyId, [...(families.get(lead.familyId) ?? []), { item, lead }]);
      });
      const uploads = new Uploads(profileOf(place).limits.perUpload);
      // What an earlier try of this job left open is looked at first, so that nothing is sent twice or forgotten.
      const open = new Map((await unsettled(db, { deliveryId: delivery.id })).map((i) => [i.faceId, i]));
      for (const members of families.values()) {
        await deliverFamily(deps, delivery, place, members, open, by, uploads, async () => {
          done++;
          await progress('Sending');
        });
      }
    }
    await tidy(deps, delivery, place);
    await control.progress(items.length, items.length, 'Done');
    const left = await db
      .getRepository(DeliveryItem)
      .countBy({ deliveryId: delivery.id, state: In(['refused', 'unknown'] satisfies DeliveryItemRow['state'][]) });
    if (delivery.errand === 'withdraw') return left > 0 ? `${left} of ${items.length} could not be taken off.` : 'Everything is off.';
    return left > 0 ? `${left} of ${items.length} could not be put there.` : 'Everything is in its place.';
  };
}

/** Names of uploads, each for as many files as the place takes in one. */
class Uploads {
  private id = randomUUID();
  private files = 0;
  constructor(private readonly most: number | null) {}
  next(): string {
    if (this.most !== null && this.files >= this.most) {
      this.id = randomUUID();
      this.files = 0;
    }
    this.files++;
    return this.id;
  }
}

interface Member {
  item: DeliveryItemRow;
  lead: LeadRow;
}

/** What was done for a family so far and is undone when the rest fails. */
interface Done {
  member: Member;
  installing: Installing;
  /** What came off first, to be put back. */
  removed: InstallRow[];
}

const settled = (state: DeliveryItemRow['state']): boolean => state === 'refused' || state === 'installed';

async function deliverFamily(
  deps: Deps,
  delivery: DeliveryRow,
  place: PlaceRow,
  members: readonly Member[],
  open: ReadonlyMap<string, Installing>,
  by: string,
  uploads: Uploads,
  step: () => Promise<void>,
): Promise<void> {
  const { db } = deps;
  const items = db.getRepository(DeliveryItem);
  const end = (member: Member, state: DeliveryItemRow['state'], message: string): Promise<unknown> =>
    items.update({ id: member.item.id }, { state, message: message.slice(0, 1000) });
  // Refused in an earlier try of this job: the whole family was settled then.
  if (members.every((m) => settled(m.item.state))) {
    for (const _ of members) await step();
    return;
  }
  const done: Done[] = [];
  for (const member of members) {
    const outcome = await deliverOne(deps, delivery, place, member, open.get(member.item.faceId) ?? null, by, uploads);
    await step();
    if (outcome.state === 'installed') {
      if (outcome.done) done.push(outcome.done);
      continue;
    }
    await end(member, outcome.state, outcome.message);
    if (outcome.removed.length > 0) await putBack(deps, place, outcome.removed, by);
    if (members.length === 1) return;
    // The rest of the family does not go either, and what went comes off again.
    const why = `${member.lead.familyName} ${member.lead.style} ${outcome.state === 'unknown' ? 'may or may not be there' : 'could not be put there'}: ${outcome.message}`;
    const undone = outcome.state === 'refused' ? await undo(deps, place, done, by) : new Set<string>();
    for (const other of members) {
      if (other === member) continue;
      const went = done.some((d) => d.member === other);
      if (!went) await end(other, 'refused', `A family goes as a whole or not at all. ${why} This face was not sent.`);
      else if (undone.has(other.item.id))
        await end(other, 'refused', `A family goes as a whole or not at all. ${why} This face was taken off again.`);
      else if (outcome.state === 'refused')
        await end(
          other,
          'unknown',
          `A family goes as a whole or not at all. ${why} This face could not be taken off again; look again when the place answers.`,
        );
    }
    for (let i = members.indexOf(member) + 1; i < members.length; i++) await step();
    return;
  }
}

type Outcome = { state: 'installed'; done: Done | null } | { state: 'refused' | 'unknown'; message: string; removed: InstallRow[] };

async function deliverOne(
  { db, compute, allowed }: Deps,
  delivery: DeliveryRow,
  place: PlaceRow,
  member: Member,
  before: Installing | null,
  by: string,
  uploads: Uploads,
): Promise<Outcome> {
  const { item, lead } = member;
  if (item.state === 'installed') {
    // Put there by an earlier try of this job; it comes off again if the rest of its family is refused now.
    const [install] = await db.getRepository(InstallEntity).findBy({ deliveryId: delivery.id, faceId: item.faceId, removedAt: IsNull() });
    return { state: 'installed', done: install ? { member, installing: installingOf(install), removed: [] } : null };
  }
  const { workspaceId } = delivery;
  const profile = profileOf(place);
  const connector = connectorOf(profile);
  let installing = before;
  // Whether what is being installed may lie there, whatever the next call says: a place that goes away after it took a file
  // has not given it back.
  let mayBeThere = before !== null;
  // What an earlier try of this job took off already belongs to what is put back.
  const removed = await takenOff(db, delivery, item);
  const note = (kind: InstallEventKind, said = ''): Promise<unknown> =>
    db.transaction((manager) => record(manager, installing!, kind, by, said));
  try {
    const recipe: Recipe = item.recipe ?? [];
    const sending = await chooseSending(db, compute, workspaceId, lead, await filesOf(db, workspaceId, lead), profile, recipe);
    if (!sending) return { state: 'refused', message: 'There is no file of this face that the place takes.', removed };
    if (sending.bytes > profile.accepts.maxBytes)
      return {
        state: 'refused',
        message: `The file has ${sending.bytes.toLocaleString('en-US')} bytes and ${place.name} takes ${profile.accepts.maxBytes.toLocaleString('en-US')} at most. Choose the smaller copy, or a face with fewer letters. It was not sent.`,
        removed,
      };
    // What an earlier try sent is only sent again when it is not there.
    let there = installing ? await lookAt(place, allowed, installing) : 'absent';
    mayBeThere = there === 'same';
    if (installing && installing.sha256 !== sending.sha256) {
      // Another file than the one sent then is made today; what became of that one is settled all the same.
      await note(there === 'same' ? 'verified' : there === 'absent' ? 'absent' : 'unknown');
      installing = null;
    }
    if (!installing) {
      mayBeThere = false;
      installing = {
        installId: randomUUID(),
        workspaceId,
        placeId: place.id,
        faceId: item.faceId,
        deliveryId: delivery.id,
        // The hash in the name lets visitors' browsers keep the file for ever and makes a new version a new address.
        remoteName: `${fileBase(lead.familyName, lead.style)}.${sending.sha256.slice(0, 8)}.${FORMAT_INFO[sending.format].extension}`,
        sha256: sending.sha256,
        format: sending.format,
        bytes: sending.bytes,
        version: (lead.facts.version ?? '').slice(0, 255),
      };
      there = 'absent';
    }
    if (there !== 'same') {
      for (const old of await toRemove(db, workspaceId, place, item, installing)) {
        await takeOff(db, allowed, place, old, by);
        removed.push(old);
      }
      await note('planned');
      const said = await db.getRepository(Statement).findOneBy({ deliveryId: delivery.id, faceId: item.faceId });
      const bytes = await getBlob(db.manager, workspaceId, sending.sha256);
      const file = {
        name: installing.remoteName,
        mediaType: FORMAT_INFO[sending.format].mediaType,
        family: lead.familyName,
        bytes,
        statement: said ? `${said.words} (${said.person})` : '',
      };
      await patiently(() => connector.put(place, allowed, { ...file, upload: uploads.next() }));
      mayBeThere = true;
      await note('put');
      there = await lookAt(place, allowed, installing);
    }
    if (there !== 'same') {
      const message =
        there === 'absent'
          ? `${place.name} said that it took the file, and does not have it. It is not counted as installed; ask whoever runs the place.`
          : `${place.name} took the file and serves other bytes in its place. It is not counted as installed; ask whoever runs the site.`;
      await note(there === 'absent' ? 'absent' : 'unknown', message);
      // Damaged bytes under our name are not left lying there.
      if (there === 'other')
        await connector.remove(place, allowed, installing.remoteName).then(
          () => note('withdrawn'),
          () => undefined,
        );
      return { state: 'refused', message, removed };
    }
    const installed = installing;
    await countAsInstalled(db, item, installed, by, 'Put there, read back, and the same byte for byte.', null, lead.sha256);
    const role = roleOf(place, delivery.role);
    // A role that is one face's goes to the first that was chosen, not to whichever came last.
    if (delivery.role && (role?.many || item.position === 0) && (connector.assign || connector.sheet)) {
      await giveRole(db, allowed, place, installed, delivery.role, by);
    }
    return { state: 'installed', done: { member, installing: installed, removed } };
  } catch (error) {
    if (error instanceof ComputeError) return { state: 'refused', message: error.message, removed };
    if (!(error instanceof PlaceError)) throw error;
    const told = await settleFailure({ db, allowed }, place, item, installing, mayBeThere, error, by, lead.sha256);
    if (told.state === 'installed') return { state: 'installed', done: installing ? { member, installing, removed } : null };
    return { state: told.state, message: told.message, removed };
  }
}

/** Whether visitors' browsers load what lies at a place. */
export const visited = (place: PlaceRow): boolean => ['website', 'online-store'].includes(profileOf(place).use);

/** Writes the style sheet of a place that is a plain folder, for all that lies there by our record. @throws PlaceError */
export async function writeSheet(db: DataSource, allowed: Allowed, place: PlaceRow): Promise<void> {
  const connector = connectorOf(profileOf(place));
  if (!connector.sheet) return;
  const installs = await installsAt(db, place.id);
  const leads = new Map(
    (await findFaces(db, place.workspaceId, [...new Set(installs.map((i) => i.faceId))])).map((lead) => [lead.faceId, lead]),
  );
  const faces = installs.map((i): SheetFace => {
    const lead = leads.get(i.faceId)!;
    const wght = lead.facts.axes.find((a) => a.tag === 'wght');
    return {
      family: lead.familyName,
      italic: Boolean(lead.italic),
      weight: wght ? `${wght.min} ${wght.max}` : String(lead.weightClass),
      format: i.format,
      name: i.remoteName,
      role: i.role,
    };
  });
  await connector.sheet(place, allowed, sheetOf(faces));
}

/** After all faces: the style sheet follows what lies there, and what pages load is looked at as a visitor's browser would. */
async function tidy({ db, allowed }: Deps, delivery: DeliveryRow, place: PlaceRow): Promise<void> {
  const items = await db.getRepository(DeliveryItem).findBy({ deliveryId: delivery.id, state: In(['installed', 'removed']) });
  if (items.length === 0) return;
  const say = (item: DeliveryItemRow, message: string): Promise<unknown> =>
    db.getRepository(DeliveryItem).update({ id: item.id }, { message: message.slice(0, 1000) });
  const connector = connectorOf(profileOf(place));
  const by = (await db.getRepository(Account).findOneBy({ id: delivery.createdBy }))?.name ?? '';
  try {
    if (delivery.errand === 'put' && profileOf(place).twins === 'replaces') await noticeReplaced({ db, allowed }, place, by);
    await writeSheet(db, allowed, place);
  } catch (error) {
    if (!(error instanceof PlaceError)) throw error;
    for (const item of items) await say(item, `${item.message} What lies there could not be put in order: ${error.message}`);
    return;
  }
  if (delivery.errand !== 'put' || !connector.asVisitor || !visited(place) || (!delivery.role && !(connector.sheet && place.page !== '')))
    return;
  for (const item of items) {
    const install = (await installsAt(db, place.id)).find((i) => i.faceId === item.faceId && i.sha256 === item.sha256);
    // A page loads one face for a role; the others lie there for later.
    if (!install || (delivery.role && !connector.sheet && install.role !== delivery.role)) continue;
    const hindered = await connector.asVisitor(place, allowed, install.remoteName, install.sha256);
    await say(
      item,
      hindered === null
        ? 'Put there, read back, and the same byte for byte; a visitor’s browser gets it from the page.'
        : `It is there, byte for byte. But: ${hindered}`,
    );
  }
}

/** What comes off before a face goes there: what was chosen, and its own old version where the place wants that. */
async function toRemove(
  db: DataSource,
  workspaceId: string,
  place: PlaceRow,
  item: DeliveryItemRow,
  installing: Installing,
): Promise<InstallRow[]> {
  const here = await withdrawPlan(db, workspaceId, { faceIds: null, placeId: place.id });
  const older = profileOf(place).replacing === 'remove-first';
  return here.filter((i) => item.removes?.includes(i.id) || (older && i.faceId === item.faceId && i.remoteName !== installing.remoteName));
}

/** What this delivery took off for a face before its server was killed. */
async function takenOff(db: DataSource, delivery: DeliveryRow, item: DeliveryItemRow): Promise<InstallRow[]> {
  if (!item.removes || item.removes.length === 0) return [];
  const gone = await db.getRepository(InstallEntity).findBy({ id: In(item.removes), placeId: delivery.placeId });
  return gone.filter((i) => i.removedAt !== null && i.removedAt >= delivery.createdAt);
}

/** Takes an install off and looks whether it is gone. @throws PlaceError */
async function takeOff(db: DataSource, allowed: Allowed, place: PlaceRow, install: InstallRow, by: string): Promise<void> {
  const note = (kind: InstallEventKind, said = ''): Promise<unknown> =>
    db.transaction((manager) => record(manager, installingOf(install), kind, by, said));
  await note('removing');
  try {
    const connector = connectorOf(profileOf(place));
    const gone = await patiently(() => connector.remove(place, allowed, install.remoteName));
    if (gone === 'removed' && (await connector.read(place, allowed, install.remoteName)) !== null)
      throw new PlaceError('refused', `${place.name} said that it removed the file, and still has it.`);
    // Gone there already is gone; our record follows.
    await note(gone === 'removed' ? 'withdrawn' : 'absent');
  } catch (error) {
    if (!(error instanceof PlaceError)) throw error;
    if (error.kind === 'unknown') {
      const gone = await lookAt(place, allowed, install).then(
        (there) => there === 'absent',
        () => false,
      );
      if (gone) return void (await note('withdrawn', error.message));
    }
    // It is still counted as being there: better a face too many on the list than one too few.
    await note(error.kind === 'unknown' ? 'unknown' : 'verified', error.message);
    throw error;
  }
}

/** Takes off again what went before the rest of a family failed; ids of the items that are off. */
async function undo({ db, compute, allowed }: Deps, place: PlaceRow, done: readonly Done[], by: string): Promise<Set<string>> {
  const off = new Set<string>();
  for (const { member, installing, removed } of [...done].reverse()) {
    const install = await db.getRepository(InstallEntity).findOneBy({ id: installing.installId });
    if (!install || install.removedAt) continue;
    try {
      await takeOff(db, allowed, place, install, by);
      off.add(member.item.id);
      await putBack({ db, compute, allowed }, place, removed, by);
    } catch (error) {
      if (!(error instanceof PlaceError)) throw error;
    }
  }
  return off;
}

/** Puts what came off back where it was: its bytes are kept. What cannot be put back stays off, with the reason on record. */
async function putBack({ db, allowed }: Deps, place: PlaceRow, removed: readonly InstallRow[], by: string): Promise<void> {
  const connector = connectorOf(profileOf(place));
  for (const old of removed) {
    const installing = installingOf(old);
    const note = (kind: InstallEventKind, said = ''): Promise<unknown> =>
      db.transaction((manager) => record(manager, installing, kind, by, said));
    try {
      const said = await db.getRepository(Statement).findOneBy({ deliveryId: old.deliveryId, faceId: old.faceId });
      await note('planned', 'The old version is put back.');
      await connector.put(place, allowed, {
        name: old.remoteName,
        mediaType: FORMAT_INFO[old.format].mediaType,
        family: old.remoteName,
        bytes: await getBlob(db.manager, old.workspaceId, old.sha256),
        statement: said?.words ?? 'It lay there before.',
        upload: randomUUID(),
      });
      if ((await lookAt(place, allowed, old)) !== 'same') throw new PlaceError('refused', 'The old version could not be put back.');
      await note('verified', 'The old version is back.');
      if (old.role && (connector.assign || connector.sheet)) await giveRole(db, allowed, place, installing, old.role, by);
    } catch (error) {
      if (!(error instanceof PlaceError)) throw error;
      await note('absent', error.message);
    }
  }
}

/** Where a place itself gives a name to the newer file, the older one is gone without a word; our record follows what is there. */
async function noticeReplaced({ db, allowed }: Pick<Deps, 'db' | 'allowed'>, place: PlaceRow, by: string): Promise<void> {
  const there = new Set((await connectorOf(profileOf(place)).list(place, allowed)).files.map((f) => f.name));
  for (const old of await installsAt(db, place.id))
    // The list may be cut short; only what cannot be read either is gone.
    if (!there.has(old.remoteName) && (await lookAt(place, allowed, old)) === 'absent')
      await db.transaction((manager) => record(manager, installingOf(old), 'absent', by, 'The place gave its name to the newer file.'));
}

const roleOf = (place: PlaceRow, id: string | null): PlaceRole | undefined => profileOf(place).roles.find((r) => r.id === id);

/** Gives what lies there a role, on record. @throws PlaceError */
export async function giveRole(
  db: DataSource,
  allowed: Allowed,
  place: PlaceRow,
  installing: Installing,
  role: string,
  by: string,
): Promise<void> {
  await connectorOf(profileOf(place)).assign?.(place, allowed, role, installing.remoteName);
  await db.transaction(async (manager) => {
    await record(manager, installing, 'assigned', by, role);
    if (roleOf(place, role)?.many) return;
    for (const other of await installsAt(manager, place.id))
      if (other.role === role && other.id !== installing.installId) await record(manager, installingOf(other), 'assigned', by, '');
  });
}

async function withdrawOne({ db, allowed }: Deps, place: PlaceRow, item: DeliveryItemRow, by: string): Promise<void> {
  const items = db.getRepository(DeliveryItem);
  const install = await db.getRepository(InstallEntity).findOneBy({ id: item.removes![0]! });
  if (!install || install.removedAt)
    return void (await items.update({ id: item.id }, { state: 'removed', message: 'It was off already.' }));
  try {
    await takeOff(db, allowed, place, install, by);
    await items.update({ id: item.id }, { state: 'removed', message: 'Taken off; we looked, and it is gone.' });
  } catch (error) {
    if (!(error instanceof PlaceError)) throw error;
    await items.update({ id: item.id }, { state: error.kind === 'unknown' ? 'unknown' : 'refused', message: error.message.slice(0, 1000) });
  }
}

/** The file was read back and is the same: it is installed. `unanswered` says how sending it ended, where no answer came. */
async function countAsInstalled(
  db: DataSource,
  item: DeliveryItemRow,
  installed: Installing,
  by: string,
  message: string,
  unanswered: string | null,
  sourceSha256: string | null,
): Promise<void> {
  await db.transaction(async (manager) => {
    // One install of a face at a place; a file of the same name that came again is the same install.
    for (const old of await withdrawPlan(manager, installed.workspaceId, { faceIds: [item.faceId], placeId: installed.placeId }))
      if (old.remoteName === installed.remoteName && old.id !== installed.installId)
        await record(manager, installingOf(old), 'withdrawn', by, 'The same file came again.');
    if (unanswered !== null) await record(manager, installed, 'put', by, unanswered);
    await record(manager, installed, 'verified', by);
    if (sourceSha256) await manager.getRepository(InstallEntity).update({ id: installed.installId }, { sourceSha256 });
    await manager
      .getRepository(DeliveryItem)
      .update({ id: item.id }, { state: 'installed', message, bytes: installed.bytes, sha256: installed.sha256 });
  });
}

/**
 * Looks at the place for what nobody knows about, and sends nothing: the statement was made for the day it was sent on.
 * @throws HttpProblem 404; 409 while it is still being sent, or when the place does not answer
 */
export async function lookAgain(
  { db, compute, allowed }: Deps,
  who: { workspaceId: string; name: string },
  deliveryId: string,
): Promise<void> {
  const delivery = await db.getRepository(DeliveryEntity).findOneBy({ id: deliveryId, workspaceId: who.workspaceId });
  if (!delivery) throw notFound('This delivery');
  const { state } = await db.getRepository(JobEntity).findOneByOrFail({ id: delivery.jobId });
  if (state === 'queued' || state === 'running') throw conflict('It is still being sent. Wait until that is through; nothing was changed.');
  const place = await findPlace(db, who.workspaceId, delivery.placeId);
  const items = await db.getRepository(DeliveryItem).findBy({ deliveryId });
  for (const installing of await unsettled(db, { deliveryId })) {
    const item = items.find((i) => i.faceId === installing.faceId && i.state === 'unknown');
    if (!item) continue;
    let there: Awaited<ReturnType<typeof lookAt>>;
    try {
      there = await lookAt(place, allowed, installing);
    } catch (error) {
      if (!(error instanceof PlaceError)) throw error;
      throw conflict(`${error.message} So whether the file is there is still not known. Look again when the place answers.`);
    }
    if (delivery.errand === 'withdraw') {
      await db.transaction(async (manager) => {
        await record(manager, installing, there === 'absent' ? 'withdrawn' : 'verified', who.name);
        const message = there === 'absent' ? 'We looked again: it is gone.' : 'We looked again: it is still there. Take it off once more.';
        await manager.getRepository(DeliveryItem).update({ id: item.id }, { state: there === 'absent' ? 'removed' : 'refused', message });
      });
      continue;
    }
    if (there === 'same') {
      await countAsInstalled(db, item, installing, who.name, 'We looked again: the file is there, and the same byte for byte.', null, null);
      continue;
    }
    const message =
      there === 'absent'
        ? 'We looked again: it is not there. Check the face for the place once more to send it.'
        : `${place.name} has other bytes under this name. It is not counted as installed; ask whoever runs the site.`;
    await db.transaction(async (manager) => {
      await record(manager, installing, there === 'absent' ? 'absent' : 'unknown', who.name, message);
      await manager.getRepository(DeliveryItem).update({ id: item.id }, { state: 'refused', message });
    });
  }
  if (delivery.errand === 'put') await settleFamilies({ db, compute, allowed }, delivery, place, who.name);
}

/** Once all of a family is known: what of it went while another of it did not comes off again. */
async function settleFamilies(deps: Deps, delivery: DeliveryRow, place: PlaceRow, by: string): Promise<void> {
  const { db, allowed } = deps;
  const items = await db.getRepository(DeliveryItem).find({ where: { deliveryId: delivery.id }, order: { position: 'ASC' } });
  const leads = await findFaces(
    db,
    delivery.workspaceId,
    items.map((i) => i.faceId),
  );
  const families = new Map<string, DeliveryItemRow[]>();
  items.forEach((item, i) => families.set(leads[i]!.familyId, [...(families.get(leads[i]!.familyId) ?? []), item]));
  for (const members of families.values()) {
    const missing = members.find((m) => m.state === 'refused');
    if (!missing || members.some((m) => m.state === 'waiting')) continue;
    for (const item of members.filter((m) => m.state === 'installed' || m.state === 'unknown')) {
      const [install] = (await withdrawPlan(db, delivery.workspaceId, { faceIds: [item.faceId], placeId: place.id })).filter(
        (i) => i.deliveryId === delivery.id,
      );
      try {
        if (install) await takeOff(db, allowed, place, install, by);
        await db.getRepository(DeliveryItem).update(
          { id: item.id },
          {
            state: 'refused',
            message: 'A family goes as a whole or not at all; another face of it is not there, so this one was taken off again.',
          },
        );
      } catch (error) {
        if (!(error instanceof PlaceError)) throw error;
      }
    }
  }
}

/** After a call that failed: what was refused before anything was sent is not there; what may be there is looked for. */
async function settleFailure(
  { db, allowed }: Pick<Deps, 'db' | 'allowed'>,
  place: PlaceRow,
  item: DeliveryItemRow,
  installing: Installing | null,
  mayBeThere: boolean,
  error: PlaceError,
  by: string,
  sourceSha256: string,
): Promise<{ state: 'installed' | 'refused' | 'unknown'; message: string }> {
  const items = db.getRepository(DeliveryItem);
  const [now] = await items.findBy({ id: item.id });
  // The file is there and was compared; only its role could not be given.
  if (now?.state === 'installed') {
    await items.update({ id: item.id }, { message: `It is there, but could not be given its role: ${error.message}`.slice(0, 1000) });
    return { state: 'installed', message: '' };
  }
  const open = error.kind === 'unknown' || mayBeThere;
  let kind: InstallEventKind = open ? 'unknown' : 'absent';
  let message = error.message;
  if (installing && open)
    try {
      const there = await lookAt(place, allowed, installing);
      if (there === 'absent') [kind, message] = ['absent', `${error.message} We looked: it is not there.`];
      else if (there === 'same') {
        const message = 'The place did not answer, yet the file is there, read back, and the same byte for byte.';
        await countAsInstalled(db, item, installing, by, message, error.message, sourceSha256);
        return { state: 'installed', message };
      }
    } catch (again) {
      if (!(again instanceof PlaceError)) throw again;
      message = `${error.message} It could not be looked at either, so whether the file is there is not known. Look again when the place answers.`;
    }
  if (installing) {
    const known = installing;
    await db.transaction((manager) => record(manager, known, kind, by, error.message));
  }
  return { state: kind === 'unknown' ? 'unknown' : 'refused', message };
}

/** Takes a face off its place, and gives its id; the record of it having been there stays. @throws HttpProblem when it is not known to be off */
export async function removeInstall(
  db: DataSource,
  allowed: Allowed,
  who: { workspaceId: string; name: string },
  installId: string,
): Promise<string> {
  const install = await db.getRepository(InstallEntity).findOneBy({ id: installId, workspaceId: who.workspaceId });
  if (!install || install.removedAt) throw notFound('This install');
  const place = await findPlace(db, who.workspaceId, install.placeId);
  try {
    await takeOff(db, allowed, place, install, who.name);
    await writeSheet(db, allowed, place);
  } catch (error) {
    if (!(error instanceof PlaceError)) throw error;
    throw conflict(error.message);
  }
  return install.faceId;
}
