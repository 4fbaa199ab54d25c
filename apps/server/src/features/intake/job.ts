import { storeCompanion } from '../licenses/index.js';
import type { Inspection } from '@orderly-glyph/core';
import { randomUUID } from 'node:crypto';
import { mkdir, open, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { IsNull, type DataSource, type EntityManager } from 'typeorm';
import { HttpProblem } from '../../platform/http/problem.js';
import { type Compute, ComputeError } from '../../platform/compute/pool.js';
import type { Tasks } from '../../platform/compute/tasks.js';
import { MAX_BUNDLE, MAX_FILE, type ZipEntry } from '@orderly-glyph/node';
import type { TakenOut } from '../../platform/compute/work/take-out.js';
import type { JobRow } from '../../platform/jobs/rows.js';
import { Busy, type JobControl } from '../../platform/jobs/runner.js';
import { FileEntity, FontKeeper, type Incoming, type Outcome, storeKnownFont } from '../faces/index.js';
import { CompanionEntity, readCompanion, settleBelongings } from '../licenses/index.js';
import { Bundle, IntakeEntity, Item, type ItemRow, Upload, type UploadRow } from './rows.js';

interface Deps {
  db: DataSource;
  compute: Compute;
  tempDir: string;
}

/** A file that is given up on this often is set aside, so that it holds up nothing else. */
export const MOST_TRIES = 2;

/** Items unpacked and read at once. */
const PARALLEL = 6;

/** Items kept together: a durable commit costs as much for many as for one. Their bytes are held meanwhile. */
const MOST_TOGETHER = 48;
const MOST_BYTES_TOGETHER = 24 * 1024 * 1024;
/** So many read items are worth a commit at once; fewer wait so long for more. */
const ENOUGH = 24;
const LONGEST_WAIT_MS = 400;
/** So long is a file waited for that comes before others which were read. */
const MOST_PATIENCE_MS = 3000;
/** Read items that may wait to be kept; whoever reads waits when there are more. */
const MOST_WAITING = 64;

/** Says of items what became of them. */
const KEPT = `UPDATE item JOIN JSON_TABLE(?, '$[*]' COLUMNS (
    id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin PATH '$.id', state VARCHAR(20) PATH '$.state', reason VARCHAR(1000) PATH '$.reason', bytes BIGINT PATH '$.bytes',
    faceId CHAR(36) PATH '$.faceId', fileId CHAR(36) PATH '$.fileId', companionId CHAR(36) PATH '$.companionId')) n
  ON item.id = n.id
  SET item.state = n.state, item.reason = n.reason, item.bytes = n.bytes, item.face_id = n.faceId, item.file_id = n.fileId,
    item.companion_id = n.companionId`;

/** What an intake shows follows its job. */
export async function followIntake(manager: EntityManager, row: JobRow, state: JobRow['state']): Promise<void> {
  if (state === 'queued') await manager.getRepository(IntakeEntity).update({ id: row.subjectId }, { state: 'queued', jobId: row.id });
  else await manager.query("UPDATE intake SET state = ? WHERE id = ? AND state IN ('queued', 'running')", [state, row.subjectId]);
}

/**
 * Sorts an intake. Every upload is first listed into items in one transaction. Items are then read side by side and kept in
 * groups, the rows and bytes of a group in one transaction; where one of a group cannot be kept, each is kept by itself, so
 * that it is still all or nothing for a file. A job that is taken up again goes on with the items still waiting.
 */
export function intakeWork(deps: Deps) {
  return async (control: JobControl): Promise<string> => {
    const intakeId = control.row.subjectId;
    const dir = join(deps.tempDir, randomUUID());
    await mkdir(dir, { recursive: true });
    const run = new IntakeRun(deps, control, intakeId, dir);
    try {
      await deps.db.getRepository(IntakeEntity).update({ id: intakeId }, { state: 'running' });
      return await run.work();
    } finally {
      await rm(dir, { recursive: true, force: true });
    }
  };
}

/** A font that was read, or what is to be done with anything else. */
type Store = Inspection | ((manager: EntityManager, incoming: Incoming) => Promise<Outcome>);

/** An item that was read, and how it is kept. */
interface ReadItem {
  item: ItemRow;
  /** Null when it could not be taken out. */
  taken: TakenOut | null;
  bytes: number;
  store: Store;
}

/** Puts read items into the order they came in. Returns how many at the beginning have none missing before them. */
function inOrder(read: ReadItem[], unkept: readonly string[]): number {
  read.sort((a, b) => a.item.seq - b.item.seq);
  const gap = read.findIndex((r, i) => r.item.id !== unkept[i]);
  return gap < 0 ? read.length : gap;
}

class IntakeRun {
  /** Files that the machine was too busy for. */
  private postponed = 0;
  /** Files of this run that hold an upload, or an archive inside one. */
  private readonly spooled = new Map<string, Promise<string>>();

  constructor(
    private readonly deps: Deps,
    private readonly control: JobControl,
    private readonly intakeId: string,
    private readonly dir: string,
  ) {}

  async work(): Promise<string> {
    const { db } = this.deps;
    const { workspaceId } = this.control.row;
    const uploads = await db
      .getRepository(Upload)
      .find({ where: { intakeId: this.intakeId, workspaceId }, order: { touchedAt: 'ASC', id: 'ASC' } });
    for (const upload of uploads.filter((u) => u.state === 'received')) {
      await this.control.progress(0, 0, `Opening ${upload.name}`);
      await this.expand(upload);
    }
    const byId = new Map(uploads.map((u) => [u.id, u]));
    const items = await db.getRepository(Item).find({ where: { intakeId: this.intakeId }, order: { seq: 'ASC' } });
    const waiting = items.filter((item) => item.state === 'waiting');
    let done = items.length - waiting.length;
    let next = 0;
    let reading = PARALLEL;
    let failure: unknown = null;
    const read: ReadItem[] = [];
    const unkept = waiting.map((item) => item.id);
    // Whoever reads waits for room, whoever keeps waits for something to keep.
    let wake: (() => void)[] = [];
    const changed = (): void => {
      const sleepers = wake;
      wake = [];
      for (const w of sleepers) w();
    };
    const until = async (ready: () => boolean): Promise<void> => {
      while (!ready() && failure === null) await new Promise<void>((resolve) => wake.push(resolve));
    };
    await this.control.progress(done, items.length, 'Sorting');
    const lane = async (): Promise<void> => {
      try {
        for (let item = waiting[next++]; item && failure === null; item = waiting[next++]) {
          await until(() => read.length < MOST_WAITING);
          read.push(await this.read(item, byId.get(item.uploadId)!));
          changed();
        }
      } catch (error) {
        failure ??= error;
      } finally {
        reading--;
        changed();
      }
    };
    const keeper = async (): Promise<void> => {
      try {
        for (;;) {
          await until(() => read.length > 0 || reading === 0);
          if (failure !== null || read.length === 0) return;
          // A durable commit costs the same for one as for many, so a few are waited for, but not for long; and files are
          // kept in their order, so that of two alike the first is kept, unless one of them holds up the others.
          const since = performance.now();
          const waited = (): number => performance.now() - since;
          const timers = [LONGEST_WAIT_MS, MOST_PATIENCE_MS].map((ms) => setTimeout(changed, ms + 1));
          await until(() => {
            const ready = inOrder(read, unkept);
            return reading === 0 || waited() >= MOST_PATIENCE_MS || ready >= ENOUGH || (ready > 0 && waited() >= LONGEST_WAIT_MS);
          });
          timers.forEach(clearTimeout);
          if (failure !== null) return;
          const first = inOrder(read, unkept) || read.length;
          const group: ReadItem[] = [];
          for (
            let bytes = 0;
            read[0] &&
            group.length < Math.min(first, MOST_TOGETHER) &&
            (group.length === 0 || bytes + read[0].bytes <= MOST_BYTES_TOGETHER);
          ) {
            bytes += read[0].bytes;
            group.push(read.shift()!);
          }
          for (const { item } of group) unkept.splice(unkept.indexOf(item.id), 1);
          changed();
          await this.keep(workspaceId, group);
          done += group.length;
          await this.control.progress(done, items.length, group[group.length - 1]!.item.path);
        }
      } catch (error) {
        failure ??= error;
        changed();
      }
    };
    await Promise.all([...Array.from({ length: PARALLEL }, lane), keeper()]);
    if (failure !== null) throw failure;
    if (this.postponed > 0) throw new Busy(`${this.postponed} ${this.postponed === 1 ? 'file waits' : 'files wait'}`);
    const bundles = await db.getRepository(Bundle).findBy({ intakeId: this.intakeId, workspaceId });
    await settleBelongings(
      db,
      this.deps.compute,
      workspaceId,
      bundles.map((b) => b.id),
    );
    await db.transaction(async (manager) => {
      // What was set aside for what it took can be tried again, so it stays for a while.
      await manager.query(
        `DELETE FROM upload WHERE intake_id = ? AND id NOT IN (SELECT upload_id FROM item WHERE intake_id = ? AND state = 'set-aside' AND tries >= ?)`,
        [this.intakeId, this.intakeId, MOST_TRIES],
      );
      await manager.query('UPDATE upload SET touched_at = ? WHERE intake_id = ?', [new Date(), this.intakeId]);
      await manager.getRepository(IntakeEntity).update({ id: this.intakeId }, { state: 'done' });
    });
    return `${items.length} ${items.length === 1 ? 'file' : 'files'} sorted.`;
  }

  /** Lists what an upload holds; all of its items or none are written. */
  private async expand(upload: UploadRow): Promise<void> {
    const { db } = this.deps;
    let entries: { path: string; bytes: number; entry: number | null; nestedEntry: number | null; refusal: string | null }[];
    const single = (refusal: string | null): typeof entries => [
      { path: upload.name, bytes: upload.bytes, entry: null, nestedEntry: null, refusal },
    ];
    const isZip = upload.bytes > 0 && (await this.isZip(upload));
    if (!isZip) entries = single(upload.bytes > MAX_FILE ? 'It is larger than 100 MiB, which is the most one file may be.' : null);
    else {
      const listed = await this.list(upload);
      if (typeof listed === 'string') entries = single(listed);
      else entries = listed.length === 0 ? single('The archive is empty.') : listed;
    }
    await db.transaction(async (manager) => {
      // A server that stood still for longer than its lease may find that another one listed this upload meanwhile.
      const [now] = (await manager.query('SELECT state FROM upload WHERE id = ? FOR UPDATE', [upload.id])) as { state: string }[];
      if (now?.state !== 'received') return;
      const bundleId = await this.bundleFor(manager, upload, isZip);
      const [{ last }] = (await manager.query('SELECT COALESCE(MAX(seq), -1) AS last FROM item WHERE intake_id = ? FOR UPDATE', [
        this.intakeId,
      ])) as [{ last: number }];
      const rows = entries.map((e, i) => ({
        id: randomUUID(),
        workspaceId: upload.workspaceId,
        intakeId: this.intakeId,
        seq: Number(last) + 1 + i,
        uploadId: upload.id,
        bundleId,
        path: e.path.slice(0, 1000),
        entry: e.entry,
        nestedEntry: e.nestedEntry,
        bytes: e.bytes,
        state: e.refusal ? ('refused' as const) : ('waiting' as const),
        reason: e.refusal ?? '',
        faceId: null,
        companionId: null,
      }));
      for (let i = 0; i < rows.length; i += 500) await manager.getRepository(Item).insert(rows.slice(i, i + 500));
      await manager.getRepository(Upload).update({ id: upload.id }, { state: 'expanded' });
    });
    upload.state = 'expanded';
  }

  /** A ZIP is a bundle of its own; files dropped loose together are one. */
  private async bundleFor(manager: EntityManager, upload: UploadRow, isZip: boolean): Promise<string> {
    const bundles = manager.getRepository(Bundle);
    if (!isZip) {
      const folder = upload.name.includes('/') ? upload.name.slice(0, upload.name.indexOf('/')) : 'Files brought in together';
      const loose = await bundles.findOneBy({ intakeId: this.intakeId, uploadId: IsNull(), name: folder });
      if (loose) return loose.id;
      const id = randomUUID();
      await bundles.insert({ id, workspaceId: upload.workspaceId, intakeId: this.intakeId, uploadId: null, name: folder });
      return id;
    }
    const id = randomUUID();
    await bundles.insert({ id, workspaceId: upload.workspaceId, intakeId: this.intakeId, uploadId: upload.id, name: upload.name });
    return id;
  }

  /** What an archive and those inside it hold, or why it is refused. */
  private async list(
    upload: UploadRow,
  ): Promise<string | { path: string; bytes: number; entry: number; nestedEntry: number | null; refusal: string | null }[]> {
    const outer = await this.compute('listZip', [await this.spool(upload)]);
    if (outer.refused !== null) return outer.refused;
    const out: { path: string; bytes: number; entry: number; nestedEntry: number | null; refusal: string | null }[] = [];
    const take = (prefix: string, e: ZipEntry, entry: number, nestedEntry: number | null, refusal = e.refusal): void =>
      void out.push({ path: prefix + e.path, bytes: e.bytes, entry, nestedEntry, refusal });
    for (const e of outer.entries) {
      if (e.refusal || !/\.zip$/i.test(e.path) || /(^|\/)__MACOSX\//.test(e.path)) {
        take('', e, e.index, null);
        continue;
      }
      const path = await this.unpackNested(upload, e.index);
      const inner = path.refused === null ? await this.compute('listZip', [path.path]) : path;
      if (inner.refused !== null) take('', e, e.index, null, inner.refused);
      else for (const i of inner.entries) take(`${e.path}/`, i, e.index, i.index);
      if (out.length > 5000) return 'With the archives inside it, the archive holds more than 5,000 files. Bring it in in parts.';
      if (out.reduce((sum, o) => sum + o.bytes, 0) > MAX_BUNDLE)
        return 'With the archives inside it, the archive would be larger than 500 MiB once unpacked, which is the most one bundle may be. Bring it in in parts.';
    }
    return out;
  }

  /** Runs a task over what was received; one that had to be ended is a refusal in words. */
  private compute<K extends 'listZip' | 'takeOut'>(
    task: K,
    args: Parameters<Tasks[K]>,
  ): Promise<Awaited<ReturnType<Tasks[K]>> | { refused: string }> {
    const run = (): Promise<Awaited<ReturnType<Tasks[K]>>> => this.deps.compute.run(task, args);
    const gaveUp = (error: unknown): error is ComputeError => error instanceof ComputeError && error.gaveUp;
    return run()
      .catch((error: unknown) => {
        if (!gaveUp(error)) throw error;
        return run();
      })
      .catch((error: unknown) => {
        if (!gaveUp(error)) throw error;
        return { refused: `${error.message} It was tried twice and not opened.` };
      });
  }

  /** By how it begins; office documents are archives, too, and are none here. */
  private async isZip(upload: UploadRow): Promise<boolean> {
    const [row] = (await this.deps.db.query('SELECT SUBSTRING(data, 1, 4096) AS data FROM upload_chunk WHERE upload_id = ? AND seq = 0', [
      upload.id,
    ])) as { data: Buffer }[];
    if (!row || row.data[0] !== 0x50 || row.data[1] !== 0x4b) return false;
    return (await this.deps.compute.run('sortBytes', [new Uint8Array(row.data), upload.name])).as === 'zip';
  }

  /** Copies an upload to a file of this run once, a chunk at a time. */
  private spool(upload: UploadRow): Promise<string> {
    return this.once(upload.id, async (path) => {
      const file = await open(path, 'w');
      try {
        for await (const data of this.chunks(upload)) await file.write(data);
      } finally {
        await file.close();
      }
    });
  }

  /** Takes an archive out of the one it is in, once. */
  private async unpackNested(upload: UploadRow, entry: number): Promise<{ refused: string } | { refused: null; path: string }> {
    let refused: string | null = null;
    const from = await this.spool(upload);
    const path = await this.once(`${upload.id}-${entry}`, async (out) => {
      ({ refused } = await this.compute('takeOut', [from, entry, out, 'inner.zip']));
    });
    return refused === null ? { refused, path } : { refused };
  }

  private once(name: string, make: (path: string) => Promise<void>): Promise<string> {
    let made = this.spooled.get(name);
    if (!made) {
      const path = join(this.dir, name);
      this.spooled.set(name, (made = make(path).then(() => path)));
      made.catch(() => this.spooled.delete(name));
    }
    return made;
  }

  private async *chunks(upload: UploadRow): AsyncGenerator<Buffer> {
    for (let seq = 0; ; seq++) {
      const rows = (await this.deps.db.query('SELECT data FROM upload_chunk WHERE upload_id = ? AND seq = ?', [upload.id, seq])) as {
        data: Buffer;
      }[];
      if (!rows[0]) return;
      yield rows[0].data;
    }
  }

  /** Takes a file out of where it lies. */
  private async takeOut(item: ItemRow, upload: UploadRow): Promise<{ refused: string } | ({ refused: null } & TakenOut)> {
    const out = join(this.dir, item.id);
    if (item.entry === null || item.nestedEntry === null)
      return this.compute('takeOut', [await this.spool(upload), item.entry, out, item.path]);
    const nested = await this.unpackNested(upload, item.entry);
    return nested.refused === null ? this.compute('takeOut', [nested.path, item.nestedEntry, out, item.path]) : nested;
  }

  /** Takes an item out and reads it; nothing is written but how often that had to be given up. */
  private async read(item: ItemRow, upload: UploadRow): Promise<ReadItem> {
    const { db } = this.deps;
    const taken = await this.takeOut(item, upload);
    const refuse = (reason: string) => (): Promise<Outcome> => Promise.resolve({ state: 'refused', reason });
    if (taken.refused !== null) return { item, taken: null, bytes: 0, store: refuse(taken.refused) };
    for (;;)
      try {
        return { item, taken, bytes: taken.bytes, store: await this.judge(item, taken) };
      } catch (error) {
        if (!(error instanceof ComputeError) || (!error.gaveUp && !error.busy)) throw error;
        const outcome = (state: Outcome['state'], reason: string) => (): Promise<Outcome> => Promise.resolve({ state, reason });
        if (error.busy) {
          // The machine was the reason, not the file: the others go on, and this one is read in a quieter hour.
          this.postponed++;
          return { item, taken, bytes: taken.bytes, store: outcome('waiting', 'The server was busy; it is tried again by itself.') };
        }
        await db.getRepository(Item).increment({ id: item.id }, 'tries', 1);
        console.error(`Reading ${item.path} was given up: ${error.message}`);
        if (++item.tries < MOST_TRIES) continue;
        const reason = `${error.message} It was tried twice and set aside, unread; the other files went on without it.`;
        return { item, taken, bytes: taken.bytes, store: outcome('set-aside', reason) };
      }
  }

  /** Keeps a group of read items in one transaction, or, where one of them is refused by the database, each in its own. */
  private async keep(workspaceId: string, group: readonly ReadItem[]): Promise<void> {
    try {
      await this.keepTogether(workspaceId, group);
    } catch (error) {
      // No room for it: it is told of this file, and the others are tried.
      const full = error instanceof HttpProblem && error.code === 'quota' ? error.message : null;
      if (full !== null && group.length === 1)
        await this.keepTogether(workspaceId, [{ ...group[0]!, store: () => Promise.resolve({ state: 'refused', reason: full }) }]);
      else if (group.length === 1) throw error;
      else {
        console.error(`Keeping ${group.length} files together failed; each is kept by itself:`, (error as Error).message);
        for (const one of group) await this.keep(workspaceId, [one]);
      }
    }
    for (const { item, taken } of group) if (taken && taken.path === join(this.dir, item.id)) await rm(taken.path, { force: true });
  }

  private async keepTogether(workspaceId: string, group: readonly ReadItem[]): Promise<void> {
    await this.deps.db.transaction(async (manager) => {
      // One group of a workspace at a time, so that two files of one face do not both found it.
      await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
      const rows = (await manager.query("SELECT id FROM item WHERE id IN (?) AND state = 'waiting' FOR UPDATE", [
        group.map((r) => r.item.id),
      ])) as { id: string }[];
      const waiting = new Set(rows.map((r) => r.id));
      const items = group
        .filter(({ item }) => waiting.has(item.id))
        .map(({ item, taken, store }) => ({
          item,
          store,
          bytes: taken ? taken.bytes : item.bytes,
          incoming: {
            workspaceId: item.workspaceId,
            bundleId: item.bundleId,
            path: item.path,
            sha256: taken?.sha256 ?? '',
            bytes: () => (taken ? readFile(taken.path) : Promise.resolve(new Uint8Array(0))),
          },
        }));
      const fonts = new FontKeeper(manager, workspaceId);
      await fonts.expect(items.flatMap(({ incoming, store }) => (typeof store === 'function' ? [] : [{ incoming, inspection: store }])));
      const kept: object[] = [];
      for (const { item, store, bytes, incoming } of items) {
        const outcome = typeof store === 'function' ? await store(manager, incoming) : await fonts.store(incoming, store);
        kept.push({ id: item.id, bytes, faceId: null, fileId: null, companionId: null, ...outcome, reason: outcome.reason.slice(0, 1000) });
      }
      await fonts.write();
      if (kept.length > 0) await manager.query(KEPT, [JSON.stringify(kept)]);
    });
  }

  /** Everything that takes time happens here, before the transaction. @throws ComputeError that gave up */
  private async judge(item: ItemRow, taken: TakenOut): Promise<Store> {
    const { db, compute } = this.deps;
    const { sorted, path, sha256 } = taken;
    const plainly = (state: 'set-aside' | 'refused', reason: string) => (): Promise<Outcome> => Promise.resolve({ state, reason });
    switch (sorted.as) {
      case 'set-aside':
      case 'refused':
        return plainly(sorted.as, sorted.reason);
      case 'zip':
        return plainly(
          'refused',
          item.nestedEntry === null && item.entry !== null
            ? 'An archive under a name that does not say so. Unpack it and bring in the files.'
            : 'An archive inside an archive inside an archive. Unpack it and bring in the files.',
        );
      case 'companion':
      case 'document': {
        const known = await db.getRepository(CompanionEntity).findOneBy({ bundleId: item.bundleId, sha256 });
        const read = known ?? (await readCompanion(compute, path, item.path, sorted));
        return (manager, incoming) => storeCompanion(manager, incoming, read);
      }
      case 'font': {
        // What is here already was inspected when it came.
        const known = await db.getRepository(FileEntity).findOneBy({ workspaceId: item.workspaceId, sha256 });
        if (known) return (manager, incoming) => storeKnownFont(manager, incoming, known);
        try {
          return await compute.run('inspect', [path, item.path.split('/').pop() ?? item.path]);
        } catch (error) {
          if (!(error instanceof ComputeError) || error.gaveUp) throw error;
          if (error.failure.code === 'internal') console.error(`Reading ${item.path} failed:`, error.failure.message);
          return plainly(
            'refused',
            error.failure.code === 'internal'
              ? 'Reading this font failed on our side. The file was not kept; tell us about it.'
              : error.failure.message,
          );
        }
      }
    }
  }
}
