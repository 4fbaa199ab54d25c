import { createHash, randomUUID } from 'node:crypto';
import { mkdir, open, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { IsNull, type DataSource, type EntityManager } from 'typeorm';
import { ComputeError, type Compute } from '../compute/pool.js';
import { Bundle, IntakeEntity, Item, Upload, type ItemRow, type UploadRow } from '../db/entities.js';
import type { JobControl } from '../jobs/runner.js';
import { classify } from './classify.js';
import { readCompanion } from './companion.js';
import { MAX_FILE } from './receive.js';
import { storeCompanion, storeFont, type Incoming, type Outcome } from './store.js';
import { openZip, ZipRefused, type ZipEntry } from './zip.js';

type OpenZip = Awaited<ReturnType<typeof openZip>>;

interface Deps {
  db: DataSource;
  compute: Compute;
  tempDir: string;
}

/** Items worked on at once: one in the database while the others are unpacked and read. */
const PARALLEL = 3;

/**
 * Sorts an intake. Every upload is first listed into items in one transaction, then every item is carried out in one
 * transaction of its own together with its bytes; a job that is taken up again goes on with the items still waiting.
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
      run.close();
      await rm(dir, { recursive: true, force: true });
    }
  };
}

class IntakeRun {
  private readonly zips = new Map<string, Promise<OpenZip>>();

  constructor(
    private readonly deps: Deps,
    private readonly control: JobControl,
    private readonly intakeId: string,
    private readonly dir: string,
  ) {}

  close(): void {
    for (const zip of this.zips.values()) void zip.then((z) => z.close()).catch(() => undefined);
  }

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
    await this.control.progress(done, items.length, 'Sorting');
    const lane = async (): Promise<void> => {
      for (let item = waiting[next++]; item; item = waiting[next++]) {
        await this.carryOut(item, byId.get(item.uploadId)!);
        await this.control.progress(++done, items.length, item.path);
      }
    };
    const lanes = await Promise.allSettled(Array.from({ length: PARALLEL }, lane));
    const failed = lanes.find((l) => l.status === 'rejected');
    if (failed) throw failed.reason;
    await db.transaction(async (manager) => {
      await manager.query('DELETE FROM upload WHERE intake_id = ?', [this.intakeId]);
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
    const head = await this.head(upload);
    const isZip = upload.bytes > 0 && classify(head, upload.name).as === 'zip';
    if (!isZip) entries = single(upload.bytes > MAX_FILE ? 'It is larger than 100 MiB, which is the most one file may be.' : null);
    else {
      try {
        entries = await this.list(upload);
        if (entries.length === 0) entries = single('The archive is empty.');
      } catch (error) {
        if (!(error instanceof ZipRefused)) throw error;
        entries = single(error.message);
      }
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

  private async list(
    upload: UploadRow,
  ): Promise<{ path: string; bytes: number; entry: number; nestedEntry: number | null; refusal: string | null }[]> {
    const outer = await this.zip(upload, null);
    const out: { path: string; bytes: number; entry: number; nestedEntry: number | null; refusal: string | null }[] = [];
    const take = (prefix: string, e: ZipEntry, entry: number, nestedEntry: number | null, refusal = e.refusal): void =>
      void out.push({ path: prefix + e.path, bytes: e.bytes, entry, nestedEntry, refusal });
    for (const e of outer.entries) {
      if (e.refusal || !/\.zip$/i.test(e.path) || /(^|\/)__MACOSX\//.test(e.path)) {
        take('', e, e.index, null);
        continue;
      }
      try {
        for (const inner of (await this.zip(upload, e.index)).entries) take(`${e.path}/`, inner, e.index, inner.index);
      } catch (error) {
        if (!(error instanceof ZipRefused)) throw error;
        take('', e, e.index, null, error.message);
      }
      if (out.length > 5000)
        throw new ZipRefused('With the archives inside it, the archive holds more than 5,000 files. Bring it in in parts.');
    }
    return out;
  }

  /** Opens an upload's archive, or one inside it, once. */
  private zip(upload: UploadRow, nested: number | null): Promise<OpenZip> {
    const key = `${upload.id}/${nested ?? ''}`;
    let zip = this.zips.get(key);
    if (!zip) {
      zip =
        nested === null
          ? this.spool(upload).then((path) => openZip({ path }))
          : this.zip(upload, null).then(async (outer) => openZip({ buffer: Buffer.from(await outer.read(nested)) }));
      this.zips.set(key, zip);
    }
    return zip;
  }

  private async head(upload: UploadRow): Promise<Uint8Array> {
    const rows = (await this.deps.db.query('SELECT SUBSTRING(data, 1, 4096) AS data FROM upload_chunk WHERE upload_id = ? AND seq = 0', [
      upload.id,
    ])) as { data: Buffer }[];
    return rows[0]?.data ?? new Uint8Array(0);
  }

  /** Copies an upload to a file of this run, a chunk at a time. */
  private async spool(upload: UploadRow): Promise<string> {
    const path = join(this.dir, upload.id);
    const file = await open(path, 'w');
    try {
      for await (const data of this.chunks(upload)) await file.write(data);
    } finally {
      await file.close();
    }
    return path;
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

  private async bytesOf(item: ItemRow, upload: UploadRow): Promise<Uint8Array> {
    if (item.entry === null) {
      const parts: Buffer[] = [];
      for await (const data of this.chunks(upload)) parts.push(data);
      return Buffer.concat(parts);
    }
    return item.nestedEntry === null
      ? (await this.zip(upload, null)).read(item.entry)
      : (await this.zip(upload, item.entry)).read(item.nestedEntry);
  }

  private async carryOut(item: ItemRow, upload: UploadRow): Promise<void> {
    let store: (manager: EntityManager, incoming: Incoming) => Promise<Outcome>;
    let bytes: Uint8Array = new Uint8Array(0);
    const plainly = (outcome: Outcome) => (): Promise<Outcome> => Promise.resolve(outcome);
    try {
      bytes = await this.bytesOf(item, upload);
      store = await this.judge(item, bytes);
    } catch (error) {
      if (!(error instanceof ZipRefused)) throw error;
      store = plainly({ state: 'refused', reason: error.message });
    }
    const { db } = this.deps;
    const incoming: Incoming = {
      workspaceId: item.workspaceId,
      bundleId: item.bundleId,
      path: item.path,
      sha256: createHash('sha256').update(bytes).digest('hex'),
      bytes,
    };
    await db.transaction(async (manager) => {
      // One item of a workspace at a time, so that two files of one face do not both found it.
      await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [item.workspaceId]);
      const [row] = (await manager.query('SELECT state FROM item WHERE id = ? FOR UPDATE', [item.id])) as { state: string }[];
      if (row?.state !== 'waiting') return;
      const outcome = await store(manager, incoming);
      await manager.getRepository(Item).update(
        { id: item.id },
        {
          state: outcome.state,
          reason: outcome.reason,
          bytes: bytes.length,
          faceId: outcome.faceId ?? null,
          companionId: outcome.companionId ?? null,
        },
      );
    });
  }

  /** Everything that takes time happens here, before the transaction. */
  private async judge(item: ItemRow, bytes: Uint8Array): Promise<(manager: EntityManager, incoming: Incoming) => Promise<Outcome>> {
    const sorted = classify(bytes, item.path);
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
        const read = await readCompanion(this.deps.compute, bytes, item.path, sorted);
        return (manager, incoming) => storeCompanion(manager, incoming, read);
      }
      case 'font':
        try {
          const inspection = await this.deps.compute.run('inspect', [bytes]);
          return (manager, incoming) => storeFont(manager, incoming, inspection);
        } catch (error) {
          if (!(error instanceof ComputeError)) throw error;
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
