import { mkdir, rm } from 'node:fs/promises';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { createHttp } from './app.js';
import { followIntake, intakeWork, sweepUploads } from './features/intake/index.js';
import { runAgain } from './features/conversions/index.js';
import { lookAgain } from './features/inquiries/index.js';
import { queueRefresh, refreshWork } from './features/library/index.js';
import { deliveryWork, installsWork, queueNightly, sealKeys } from './features/places/index.js';
import { Gate } from './platform/blobs/space.js';
import { Compute } from './platform/compute/pool.js';
import { BYTES, ENTITIES, REMOVED } from './rows.js';
import type { EntitySchema } from 'typeorm';
import { callerOf } from './features/accounts/index.js';
import type { AllowedPlaces, App } from './platform/http/context.js';
import { readConfig } from './platform/config.js';
import { openDatabase } from './platform/database/data-source.js';
import { callKind, sweepCalls } from './platform/jobs/calls.js';
import { JobRunner, queueJob, type JobKind } from './platform/jobs/runner.js';
import { Secrets } from './platform/secrets.js';

const config = readConfig(process.env);
const tempDir = join(config.dataDir, 'tmp', String(config.port));
await rm(tempDir, { recursive: true, force: true });
await mkdir(tempDir, { recursive: true });
// What is received lies with the server's data while it is worked on, and is gone at the next start.
process.env.TMPDIR = tempDir;
const db = await openDatabase(config.db, ENTITIES as EntitySchema[], new Gate(config));
const compute = new Compute(config.workers);
const allowed: AllowedPlaces = {
  hosts: config.privatePlaces,
  folders: config.placeFolders,
  secrets: new Secrets(config.dataDir),
  addresses: (kind, text, at) => compute.run('addresses', [kind, text, at], true),
};
const calls: App['calls'] = new Map();
const sort = intakeWork({ db, compute, tempDir });
const later = (work: Promise<unknown>, what: string): void => void work.catch((error: unknown) => console.error(`${what} failed:`, error));
/** Kinds of jobs, each declared by the feature that it belongs to. */
const kinds = new Map<string, JobKind>([
  [
    'intake',
    {
      work: async (control) => {
        const said = await sort(control);
        const { workspaceId } = control.row;
        // The intake itself is done; what rests on what came in goes on by itself.
        for (const kind of ['recipes', 'inquiries']) await queueJob(db.manager, { workspaceId, kind, subjectId: workspaceId });
        return said;
      },
      follow: followIntake,
    },
  ],
  // What was made of an older file of a face is made of the newer one as well.
  ['recipes', { work: async ({ row }) => `${await runAgain(db, compute, row.workspaceId)} made again.` }],
  // A face that just came in may be the one somebody asked for.
  [
    'inquiries',
    {
      work: async ({ row }) => {
        await lookAgain(db, compute, row.workspaceId);
        return 'Looked again.';
      },
    },
  ],
  ['delivery', { work: deliveryWork({ db, compute, allowed }), silentMs: config.jobSilence }],
  ['installs', { work: installsWork({ db, allowed }), silentMs: config.jobSilence }],
  ['facts', { work: refreshWork({ db, compute }) }],
  ['call', callKind(db, config, calls)],
]);
const jobs = new JobRunner(db, config.jobLease, kinds);
await sweepUploads(db);
await sweepCalls(db);
await sealKeys(db, allowed.secrets);
await queueRefresh(db);
const nightly = setInterval(
  () => void queueNightly(db).catch((error: unknown) => console.error('Queueing the look at places failed:', error)),
  60 * 60_000,
);
const sweeping = setInterval(() => later(Promise.all([sweepUploads(db), sweepCalls(db)]), 'Sweeping'), 5 * 60_000);

const server = createServer(
  createHttp({
    config,
    db,
    compute,
    jobs,
    calls,
    allowed,
    bytes: BYTES,
    removed: REMOVED,
    callerOf: (request) => callerOf(db, request.headers.cookie),
  }),
);
// A 500 MiB upload over a slow line takes longer than the default five minutes.
server.requestTimeout = 2 * 3_600_000;
server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE'
      ? `Port ${config.port} is taken by another program. Set PORT to a free one and start again.`
      : error.message,
  );
  process.exit(1);
});
// Longer than a proxy keeps an idle connection, so that none is closed under a request on its way.
server.keepAliveTimeout = 75_000;
server.listen(config.port, config.host, () => {
  jobs.start();
  if (config.warm) compute.warm();
  console.log(`ready http://${config.host}:${config.port}`);
});

// One failure that nobody waited for must not end the server for all.
process.on('unhandledRejection', (error) => console.error('A failure that nobody waited for:', error));

let stopping = false;
async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  clearInterval(sweeping);
  clearInterval(nightly);
  server.close();
  server.closeAllConnections();
  await jobs.stop();
  await compute.close();
  await db.destroy();
  process.exit(0);
}
process.on('SIGINT', () => void stop());
process.on('SIGTERM', () => void stop());
