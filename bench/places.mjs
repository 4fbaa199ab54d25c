// Foresight of 500 faces at 10 places in the core, and 100 faces delivered to the practice design tool through HTTP.
// node bench/places.mjs
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as core from '../packages/core/dist/index.js';
import { nodeCodec } from '../packages/node/dist/index.js';
import { startDatabase } from '../scripts/lib/database.mjs';
import { ROOT, startNode, stopProcess } from '../scripts/lib/system.mjs';

// Foresight: real faces, each as often as it takes to make 500.
const noto = '/usr/share/fonts/truetype/noto';
const files = readdirSync(noto)
  .filter((f) => f.endsWith('.ttf'))
  .slice(0, 250);
const read = files.map((f) => {
  const bytes = new Uint8Array(readFileSync(join(noto, f)));
  return { bytes: bytes.length, ...core.readFacts(bytes, nodeCodec) };
});
const faces = Array.from({ length: 500 }, (_, i) => {
  const { bytes, format, faces } = read[i % read.length];
  return { family: `${faces[0].family} ${i}`, style: 'Regular', format, facts: faces[0], files: [{ format, bytes }], sha256: String(i) };
});
const places = Array.from({ length: 10 }, (_, i) => core.PROFILES[i % core.PROFILES.length]);
const there = {
  types: null,
  faces: Array.from({ length: 60 }, (_, i) => ({
    name: `${i}`,
    family: `Old ${i}`,
    style: 'Regular',
    sha256: 'x',
    installId: `${i}`,
    lastUsed: '2026-01-01',
  })),
};
const mayChange = () => ({ answer: 'yes', reasons: [] });
const foresee = () => {
  const batch = core.batchOf(faces);
  let stops = 0;
  for (const profile of places)
    for (const [i, face] of faces.entries())
      stops += core
        .preflight(core.contextFor(profile, face, { placeName: 'x', there, batch: batch[i], mayChange }))
        .filter((f) => f.severity === 'stops').length;
  return stops;
};
foresee();
const runs = Array.from({ length: 9 }, () => {
  const at = performance.now();
  foresee();
  return performance.now() - at;
}).sort((a, b) => a - b);
console.log(`foresight, 500 faces at 10 places: median ${runs[4].toFixed(0)} ms, worst ${runs[8].toFixed(0)} ms (asked 500)`);

const dir = mkdtempSync(join(tmpdir(), 'bench-'));
const port = 4660;
const address = `http://127.0.0.1:${port}`;
const database = await startDatabase({ dir, port: port + 1 });
const practice = await startNode(join(ROOT, 'apps/practice/dist/main.js'), {
  PRACTICE_PORT: String(port + 2),
  PRACTICE_DATA_DIR: join(dir, 'p'),
  PRACTICE_KEY: 'k',
  PRACTICE_WEBSITE_TYPES: 'woff2,woff',
});
const server = await startNode(join(ROOT, 'apps/server/dist/main.js'), {
  ...database.settings,
  PORT: String(port),
  DATA_DIR: dir,
  WEB_DIR: join(ROOT, 'apps/web/dist'),
  DEMO: '0',
  MIN_FREE_MIB: '64',
  LIMIT_SIGN_UPS: '0',
  PRIVATE_PLACES: '*',
});
try {
  let cookie = '';
  const call = async (method, path, body) => {
    const response = await fetch(address + path, {
      method,
      headers: {
        origin: address,
        cookie,
        ...(body instanceof Uint8Array ? { 'content-type': 'application/octet-stream' } : { 'content-type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: body instanceof Uint8Array ? body : JSON.stringify(body) }),
    });
    for (const set of response.headers.getSetCookie()) if (set.startsWith('glyph_session=')) cookie = set.split(';')[0];
    const answer = await response.json();
    if (!response.ok) throw new Error(`${path}: ${answer.error?.message}`);
    return answer;
  };
  const done = async (jobId) => {
    for (;;) {
      const job = await call('GET', `/api/jobs/${jobId}`);
      if (job.state !== 'queued' && job.state !== 'running') return job;
      await new Promise((r) => setTimeout(r, 50));
    }
  };
  await call('POST', '/api/accounts', { name: 'B', email: 'bench@bench.example', password: 'a long password', workspace: 'Bench' });
  const intake = await call('POST', '/api/intakes', { label: 'bench' });
  // A hundred families: half go as they are, half have to leave their container.
  for (let i = 0; i < 100; i++) {
    const source = new Uint8Array(readFileSync(join(noto, files[i * 2])));
    const steps = [
      { step: 'rename', options: { family: `Bench ${i}` } },
      ...(i % 2 ? [{ step: 'container', options: { to: 'woff2' } }] : []),
    ];
    const { bytes } = core.render(source, 0, steps, { codec: nodeCodec });
    await call('POST', `/api/intakes/${intake.id}/uploads?name=${i}.${i % 2 ? 'woff2' : 'ttf'}`, bytes);
  }
  await done((await call('POST', `/api/intakes/${intake.id}/start`, {})).id);
  const { items } = await call('GET', `/api/intakes/${intake.id}`);
  const ids = (rest) => items.filter((i) => i.faceId && Number(/(\d+)\./.exec(i.path)[1]) % 2 === rest).map((i) => i.faceId);
  const { blankLicense } = await import('../packages/schema/dist/index.js');
  await call('POST', '/api/licenses', {
    ...blankLicense([...ids(0), ...ids(1)]),
    name: 'x',
    kind: 'made-here',
    uses: { 'design-tool': 'yes', changing: 'yes' },
    confirmed: true,
  });
  const place = await call('POST', '/api/places', {
    name: 'Tool',
    profileId: 'design-tool',
    address: `http://127.0.0.1:${port + 4}/sets/bench`,
    key: 'k',
  });
  const deliver = async (faceIds) => {
    const { cells } = await call('POST', '/api/preflight', { faceIds, placeIds: [place.id], mendAll: true });
    const at = performance.now();
    const [delivery] = await call('POST', '/api/delivery-batches', {
      batchId: randomUUID(),
      orders: [
        { placeId: place.id, faces: cells.map((c) => ({ faceId: c.faceId, remedies: c.chosen, statement: c.statement, note: '' })) },
      ],
    });
    const { message } = await done(delivery.jobId);
    return { seconds: (performance.now() - at) / 1000, message };
  };
  const plain = await deliver(ids(0));
  const converted = await deliver(ids(1));
  const n = [ids(0).length, ids(1).length];
  console.log(`as they are: ${n[0]} faces, ${(n[0] / plain.seconds).toFixed(1)} a second (${plain.message})`);
  console.log(`converted on the way: ${n[1]} faces, ${(n[1] / converted.seconds).toFixed(1)} a second (${converted.message})`);
  console.log(
    `all: ${((n[0] + n[1]) / (plain.seconds + converted.seconds)).toFixed(1)} a second; converting takes ${(100 * (1 - plain.seconds / converted.seconds)).toFixed(0)}% of a converted face's time`,
  );
} finally {
  await stopProcess(server);
  await stopProcess(practice);
  await database.stop();
  rmSync(dir, { recursive: true, force: true });
}
