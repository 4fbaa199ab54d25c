/**
 * Trains what tells kinds of typefaces and look-alikes apart, and writes the models and the samples their tests run on.
 * Run by hand: node scripts/train-shapes.mjs FOLDER
 * FOLDER receives the families of scripts/data/shape-families.json as packages (0.7 GB over the network, once).
 * Families are split in two by a hash of their name; the models only ever see the first half.
 */
import { execFile } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { gzipSync } from 'node:zlib';
import { describeLetters, KINDS, MEASURES, measure, RAW_LENGTH, readFontFile, readLetters } from '../packages/core/dist/index.js';
import { nodeCodec } from '../packages/node/dist/index.js';

const folder = process.argv[2];
if (!folder) {
  console.error('Name a folder to keep the families in.');
  process.exit(2);
}
const families = JSON.parse(readFileSync(new URL('./data/shape-families.json', import.meta.url), 'utf8'));
const run = promisify(execFile);

const idOf = (family) => family.toLowerCase().replace(/[^a-z0-9]+/g, '-');
const weightOf = (path) => Number(/\/(\d{3})/.exec(path)?.[1] ?? 400);

/** Fetches a family's upright face nearest to regular and the one nearest to bold. */
async function fetchFamily({ family }) {
  const id = idOf(family);
  const kept = join(folder, id);
  if (existsSync(join(kept, 'meta.json'))) return;
  const temp = join(folder, `.${id}`);
  mkdirSync(temp, { recursive: true });
  mkdirSync(kept, { recursive: true });
  try {
    const { stdout } = await run('npm', ['pack', `@expo-google-fonts/${id}`, '--silent', '--pack-destination', temp]);
    const archive = join(temp, stdout.trim().split('\n').pop());
    const files = (await run('tar', ['tzf', archive])).stdout.split('\n').filter((f) => f.endsWith('.ttf') && !f.includes('Italic'));
    const nearest = (weight) => [...files].sort((a, b) => Math.abs(weightOf(a) - weight) - Math.abs(weightOf(b) - weight))[0];
    const wanted = [...new Set([nearest(400), nearest(700)])];
    await run('tar', ['xzf', archive, '-C', kept, '--transform', 's#.*/##', ...wanted]);
    writeFileSync(
      join(kept, 'meta.json'),
      JSON.stringify({ files: wanted.map((f) => ({ file: f.split('/').pop(), weight: weightOf(f) })) }),
    );
  } finally {
    rmSync(temp, { recursive: true, force: true });
  }
}

/** FNV-1a, so that a family falls into the same half for ever. */
function half(id) {
  let hash = 2166136261;
  for (const c of id) hash = Math.imul(hash ^ c.charCodeAt(0), 16777619);
  return (hash >>> 0) % 2 === 0 ? 'train' : 'test';
}

function readFaces() {
  const faces = [];
  for (const { family, kind } of families) {
    const id = idOf(family);
    const meta = join(folder, id, 'meta.json');
    if (!existsSync(meta)) continue;
    for (const { file, weight } of JSON.parse(readFileSync(meta, 'utf8')).files) {
      const letters = readLetters(readFontFile(new Uint8Array(readFileSync(join(folder, id, file))), nodeCodec).fonts[0]);
      faces.push({ id, family, kind, weight, half: half(id), values: measure(letters).values, raw: describeLetters(letters) });
    }
  }
  return faces;
}

// ---- kinds ------------------------------------------------------------------------------------------------------

const round = (v) => Math.round(v * 1e4) / 1e4;

/** Multinomial logistic regression with an L2 penalty, by gradient descent with momentum; rare classes count for more. */
function trainLogistic(rows, classes, { penalty = 0.01, steps = 900, rate = 0.3 } = {}) {
  const size = MEASURES.length;
  const mean = [];
  const deviation = [];
  for (let j = 0; j < size; j++) {
    const known = rows.map((r) => r.values[j]).filter(Number.isFinite);
    const m = known.reduce((a, b) => a + b, 0) / known.length;
    mean.push(round(m));
    deviation.push(round(Math.sqrt(known.reduce((a, b) => a + (b - m) ** 2, 0) / known.length)) || 1);
  }
  const xs = rows.map((r) => r.values.map((v, j) => (Number.isFinite(v) ? Math.max(-4, Math.min(4, (v - mean[j]) / deviation[j])) : 0)));
  const ys = rows.map((r) => classes.indexOf(r.label));
  const counts = classes.map((_, k) => ys.filter((y) => y === k).length);
  const weights = classes.map(() => new Float64Array(size + 1));
  const speed = classes.map(() => new Float64Array(size + 1));
  for (let step = 0; step < steps; step++) {
    const slope = classes.map(() => new Float64Array(size + 1));
    xs.forEach((x, i) => {
      const sums = weights.map((w) => x.reduce((s, v, j) => s + v * w[j], w[size]));
      const most = Math.max(...sums);
      const powers = sums.map((s) => Math.exp(s - most));
      const total = powers.reduce((a, b) => a + b, 0);
      const share = Math.sqrt(rows.length / (classes.length * counts[ys[i]])) / rows.length;
      for (let k = 0; k < classes.length; k++) {
        const error = share * (powers[k] / total - Number(k === ys[i]));
        for (let j = 0; j < size; j++) slope[k][j] += error * x[j];
        slope[k][size] += error;
      }
    });
    for (let k = 0; k < classes.length; k++)
      for (let j = 0; j <= size; j++) {
        speed[k][j] = 0.9 * speed[k][j] - rate * (slope[k][j] + (j < size ? penalty * weights[k][j] : 0));
        weights[k][j] += speed[k][j];
      }
  }
  return { mean, deviation, weights: weights.map((w) => Array.from(w, round)) };
}

// ---- look-alikes ------------------------------------------------------------------------------------------------

const DIMENSIONS = 48;
const SHRINK = 0.1;
/** Sizes of a letter count for four cells of its raster. */
const weightAt = (j) => (j % 40 >= 36 ? 4 : 1);

/** Eigenvectors of a symmetric matrix by Jacobi rotations. */
function eigen(matrix) {
  const n = matrix.length;
  const a = matrix.map((r) => Float64Array.from(r));
  const v = Array.from({ length: n }, (_, i) => Float64Array.from({ length: n }, (_, j) => Number(i === j)));
  for (let sweep = 0; sweep < 60; sweep++) {
    let off = 0;
    for (let p = 0; p < n; p++) for (let q = p + 1; q < n; q++) off += a[p][q] ** 2;
    if (off < 1e-18) break;
    for (let p = 0; p < n; p++)
      for (let q = p + 1; q < n; q++) {
        if (Math.abs(a[p][q]) < 1e-15) continue;
        const theta = (a[q][q] - a[p][p]) / (2 * a[p][q]);
        const t = (theta < 0 ? -1 : 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
        const c = 1 / Math.sqrt(t * t + 1);
        const s = t * c;
        const turn = (get, set) => {
          for (let k = 0; k < n; k++) {
            const [x, y] = get(k);
            set(k, c * x - s * y, s * x + c * y);
          }
        };
        turn(
          (k) => [a[k][p], a[k][q]],
          (k, x, y) => ((a[k][p] = x), (a[k][q] = y)),
        );
        turn(
          (k) => [a[p][k], a[q][k]],
          (k, x, y) => ((a[p][k] = x), (a[q][k] = y)),
        );
        turn(
          (k) => [v[k][p], v[k][q]],
          (k, x, y) => ((v[k][p] = x), (v[k][q] = y)),
        );
      }
  }
  return { values: a.map((r, i) => r[i]), vectors: Array.from({ length: n }, (_, i) => v.map((r) => r[i])) };
}

function trainAlike(faces, pairs) {
  const mean = new Float64Array(RAW_LENGTH);
  const seen = new Float64Array(RAW_LENGTH);
  for (const f of faces)
    f.raw.forEach((v, j) => {
      if (!Number.isFinite(v)) return;
      mean[j] += v;
      seen[j]++;
    });
  for (let j = 0; j < RAW_LENGTH; j++) mean[j] = Math.max(-127, Math.min(127, Math.round((mean[j] / (seen[j] || 1)) * 127))) / 127;
  const centered = (f) => Float64Array.from(f.raw, (v, j) => (Number.isFinite(v) ? (v - mean[j]) * weightAt(j) : 0));
  const xs = faces.map(centered);
  const dot = (a, b) => a.reduce((s, v, j) => s + v * b[j], 0);
  const gram = xs.map((a) => Float64Array.from(xs, (b) => dot(a, b)));
  // Principal components through the matrix of inner products, by orthogonal iteration.
  let basis = Array.from({ length: DIMENSIONS }, (_, i) => Float64Array.from(xs, (_, k) => Math.sin(i * 37.1 + k * 11.3 + i * k)));
  for (let round = 0; round < 30; round++) {
    basis = basis.map((b) => Float64Array.from(gram, (row) => dot(row, b)));
    basis.forEach((b, i) => {
      for (let k = 0; k < i; k++) {
        const along = dot(b, basis[k]);
        b.forEach((_, j) => (b[j] -= along * basis[k][j]));
      }
      const length = Math.sqrt(dot(b, b)) || 1;
      b.forEach((_, j) => (b[j] /= length));
    });
  }
  const components = basis.map((b) => {
    const p = new Float64Array(RAW_LENGTH);
    xs.forEach((x, i) => x.forEach((v, j) => (p[j] += b[i] * v)));
    const length = Math.sqrt(dot(p, p)) || 1;
    return p.map((v) => v / length);
  });
  const within = Array.from({ length: DIMENSIONS }, () => new Float64Array(DIMENSIONS));
  for (const [a, b] of pairs) {
    const [pa, pb] = [centered(a), centered(b)].map((x) => components.map((p) => dot(p, x)));
    const d = pa.map((v, i) => v - pb[i]);
    for (let i = 0; i < DIMENSIONS; i++) for (let k = 0; k < DIMENSIONS; k++) within[i][k] += (d[i] * d[k]) / pairs.length / 2;
  }
  const trace = within.reduce((s, r, i) => s + r[i], 0) / DIMENSIONS;
  within.forEach((r, i) => (r[i] += SHRINK * trace));
  const { values, vectors } = eigen(within);
  const rows = vectors.map((vector, i) => {
    const row = new Float64Array(RAW_LENGTH);
    components.forEach((p, k) => p.forEach((v, j) => (row[j] += (vector[k] / Math.sqrt(values[i])) * v * weightAt(j))));
    return row;
  });
  const scales = rows.map((row) => row.reduce((m, v) => Math.max(m, Math.abs(v)), 0) / 127);
  const bytes = (list) => Buffer.from(Int8Array.from(list).buffer).toString('base64');
  return {
    mean: bytes(Array.from(mean, (v) => Math.round(v * 127))),
    matrix: bytes(rows.flatMap((row, i) => Array.from(row, (v) => Math.round(v / scales[i])))),
    scales: scales.map((s) => Number(s.toPrecision(6))),
  };
}

// ---- all of it --------------------------------------------------------------------------------------------------

let next = 0;
await Promise.all(
  Array.from({ length: 3 }, async () => {
    for (let family = families[next++]; family; family = families[next++])
      await fetchFamily(family).catch((error) => console.error(`${family.family}: ${String(error.message).split('\n')[0]}`));
  }),
);
const faces = readFaces();
const training = faces.filter((f) => f.half === 'train');
const form = trainLogistic(
  training.filter((f) => f.kind !== 'display').map((f) => ({ ...f, label: f.kind })),
  KINDS,
);
const decorative = trainLogistic(
  training.filter((f) => f.kind !== 'symbols').map((f) => ({ ...f, label: f.kind === 'display' ? 'display' : 'text' })),
  ['text', 'display'],
  { penalty: 0.3 },
);
const written = 'Written by scripts/train-shapes.mjs; not to be changed by hand.';
writeFileSync(
  new URL('../packages/core/src/face/data/kind-model.ts', import.meta.url),
  `// ${written}\nimport type { LogisticModel } from '../kind.js';\n\nexport const KIND_MODEL: { form: LogisticModel; decorative: LogisticModel } = ${JSON.stringify({ form, decorative })};\n`,
);
const pairsOf = (list) => Object.values(Object.groupBy ? Object.groupBy(list, (f) => f.id) : group(list)).filter((g) => g.length === 2);
function group(list) {
  const out = {};
  for (const f of list) (out[f.id] ??= []).push(f);
  return out;
}
const lettered = (f) => f.raw.filter(Number.isFinite).length > RAW_LENGTH * 0.6;
const alike = trainAlike(training.filter(lettered), pairsOf(training.filter(lettered)));
writeFileSync(
  new URL('../packages/core/src/match/data/alike-model.ts', import.meta.url),
  `// ${written}\nimport type { AlikeModel } from '../alike.js';\n\nexport const ALIKE_MODEL: AlikeModel = ${JSON.stringify(alike)};\n`,
);

// The samples: every face of the second half for kinds; for look-alikes 40 families of it with both weights, among 300 faces.
const tested = faces.filter((f) => f.half === 'test');
const asked = pairsOf(tested.filter(lettered)).slice(0, 40);
const names = new Set(asked.map(([a]) => a.id));
const pool = [...asked.map(([, b]) => b), ...[...tested, ...training].filter((f) => lettered(f) && !names.has(f.id))].slice(0, 300);
const described = (f) => ({
  id: f.id,
  weight: f.weight,
  // Two values a byte would do; one a byte keeps the test plain.
  raw: Buffer.from(
    Int8Array.from(f.raw, (v) => (Number.isFinite(v) ? Math.max(-127, Math.min(127, Math.round(v * 127))) : -128)).buffer,
  ).toString('base64'),
});
const samples = {
  note: written,
  kinds: tested.map((f) => ({
    id: f.id,
    weight: f.weight,
    kind: f.kind,
    values: f.values.map((v) => (Number.isFinite(v) ? round(v) : null)),
  })),
  alike: { asked: asked.map(([a]) => described(a)), pool: pool.map(described) },
};
writeFileSync(new URL('../packages/core/test/shape-samples.json.gz', import.meta.url), gzipSync(JSON.stringify(samples), { level: 9 }));
console.log(
  `${faces.length} faces of ${new Set(faces.map((f) => f.id)).size} families; ${training.length} trained on, ${tested.length} kept for the test; look-alikes: ${asked.length} among ${pool.length}.`,
);
