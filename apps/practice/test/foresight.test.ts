import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  batchOf,
  contextFor,
  containerRecipe,
  fitOf,
  FontError,
  preflight,
  profile as profileOf,
  readFacts,
  readFontFile,
  render,
  type FaceAtHand,
  type Fit,
  type PlaceState,
  type Recipe,
} from '@orderly-glyph/core';
import { nodeCodec, nodePaths, nodeSubsetter } from '@orderly-glyph/node';
import { colored } from '../../../packages/core/test/colored.js';
import { collection, FONTS, patch16, readFont, withTable } from '../../../packages/core/test/fonts.js';
import { Shelf } from '../src/common/shelf.js';
import { createComputer } from '../src/computer/computer.js';
import { createDesignTool } from '../src/design-tool/tool.js';
import { createPrintShop } from '../src/print-shop/shop.js';
import { createStore } from '../src/store/store.js';
import { createWebsite } from '../src/website/site.js';

const dir = mkdtempSync(join(tmpdir(), 'practice-'));
const KEY = 'key';
const MAKERS = {
  website: createWebsite,
  store: createStore,
  'design-tool': createDesignTool,
  'print-shop': createPrintShop,
  computer: createComputer,
} as const;
type Kind = keyof typeof MAKERS;
const KINDS = Object.keys(MAKERS) as Kind[];
const servers: Server[] = [];
const addresses = new Map<Kind, string>();

beforeAll(async () => {
  for (const kind of KINDS) {
    const shelf = await Shelf.open(join(dir, kind), { types: 'woff2,woff' });
    const server = await new Promise<Server>((up) => {
      const s = MAKERS[kind](shelf, KEY).listen(0, '127.0.0.1', () => up(s));
    });
    servers.push(server);
    addresses.set(kind, `http://127.0.0.1:${(server.address() as AddressInfo).port}${kind === 'design-tool' ? '/sets/ours' : ''}`);
  }
});
afterAll(() => {
  for (const s of servers) {
    s.closeAllConnections();
    s.close();
  }
  rmSync(dir, { recursive: true, force: true });
});

const call = (kind: Kind, method: string, path: string, body?: Uint8Array, headers: Record<string, string> = {}): Promise<Response> =>
  fetch(`${addresses.get(kind)!}/${path}`, {
    method,
    headers: { authorization: `Bearer ${KEY}`, 'x-statement': 'We%20may', 'content-type': 'application/octet-stream', ...headers },
    ...(body ? { body: Buffer.from(body) } : {}),
  });
const put = (kind: Kind, name: string, bytes: Uint8Array, headers?: Record<string, string>): Promise<Response> =>
  call(kind, 'PUT', `fonts/${encodeURIComponent(name)}`, bytes, headers);

const sha = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Each file is read once, for all kinds of places. */
const reads = new WeakMap<Uint8Array, ReturnType<typeof readFacts>>();
function factsOf(bytes: Uint8Array): ReturnType<typeof readFacts> {
  const known = reads.get(bytes) ?? readFacts(bytes, nodeCodec);
  reads.set(bytes, known);
  return known;
}

/** What we foresee of a file as somebody has it, all its faces together. */
function foreseen(kind: Kind, fileName: string, bytes: Uint8Array, there: PlaceState | null = null): { fit: Fit; codes: string[] } {
  let faces: FaceAtHand[];
  try {
    const { format, faces: read } = factsOf(bytes);
    faces = read.map((facts) => ({
      family: facts.typographicFamily ?? facts.family ?? '',
      style: facts.typographicSubfamily ?? facts.subfamily ?? 'Regular',
      format,
      facts,
      files: [{ format, bytes: bytes.length, whole: true }],
      sha256: sha(bytes),
    }));
  } catch (error) {
    if (!(error instanceof FontError)) throw error;
    return { fit: 'does-not-fit', codes: [error.code] };
  }
  // Faces of one file are sent as one, so they are no batch.
  const findings = faces.flatMap((face) => preflight(contextFor(profileOf(kind)!, face, { fileName, there, batch: batchOf([face])[0]! })));
  return { fit: fitOf(findings), codes: findings.filter((f) => f.severity === 'stops').map((f) => f.code) };
}

const NOTO = '/usr/share/fonts/truetype/noto';
const tools = { codec: nodeCodec, subsetter: await nodeSubsetter(), paths: await nodePaths() };
const made = (bytes: Uint8Array, recipe: Recipe): Uint8Array => render(bytes, 0, recipe, tools).bytes;
const font = (bytes: Uint8Array) => readFontFile(bytes, nodeCodec).fonts[0]!;
/** A copy whose OS/2 table has another fsType. */
const embedding = (bytes: Uint8Array, fsType: number, version?: number): Uint8Array => {
  let os2 = patch16(font(bytes).tables.get('OS/2')!, 8, fsType);
  if (version !== undefined) os2 = patch16(os2, 0, version);
  return withTable(font(bytes), 'OS/2', os2);
};

/** Files of every sort that people have, by the name they bear. */
function files(): [string, Uint8Array][] {
  const serif = readFont('serifTtf');
  const hand = readFont('gochiHand');
  const out: [string, Uint8Array][] = [];
  for (const name of Object.keys(FONTS) as (keyof typeof FONTS)[]) {
    const ending = /\.(woff2?|ttf|otf)$/.exec(FONTS[name])![1]!;
    out.push([`${name}.${ending}`, readFont(name)]);
  }
  const noto = readdirSync(NOTO).filter((f) => f.endsWith('-Regular.ttf'));
  for (const [i, f] of noto.entries()) if (i % 7 === 0) out.push([f.replace(/[^\w.-]/g, ''), new Uint8Array(readFileSync(join(NOTO, f)))]);
  // The same as web files.
  for (const [name, bytes] of out.filter(([n]) => /\.(ttf|otf)$/.test(n)).slice(0, 5)) {
    const base = name.replace(/\.\w+$/, '');
    out.push([`${base}.woff2`, made(bytes, containerRecipe('woff2'))], [`${base}.woff`, made(bytes, containerRecipe('woff'))]);
  }
  const cjk = join(process.cwd(), 'node_modules/@expo-google-fonts/yusei-magic/400Regular/YuseiMagic_400Regular.ttf');
  const japanese = new Uint8Array(readFileSync(cjk));
  out.push(['yusei.ttf', japanese], ['yusei.woff2', made(japanese, containerRecipe('woff2'))]);
  out.push(['two.ttc', collection([hand, readFont('notoMono')])], ['two.otc', collection([serif, hand])]);
  for (const beneath of [true, false]) {
    const face = colored(beneath);
    const n = beneath ? 'colored' : 'colors-only';
    out.push([`${n}.ttf`, face], [`${n}.woff2`, made(face, containerRecipe('woff2'))]);
  }
  // Every permission that the specification defines, and contradictory ones.
  for (const [fsType, version] of [
    [2, 4],
    [4, 4],
    [8, 4],
    [0x100, 4],
    [0x200, 4],
    [0x202, 3],
    [6, 1],
    [6, 4],
    [0x200, 1],
    [12, 2],
  ] as const) {
    const plain = embedding(hand, fsType, version);
    out.push(
      [`permission-${fsType}-${version}.ttf`, plain],
      [`permission-${fsType}-${version}.woff2`, made(plain, containerRecipe('woff2'))],
    );
  }
  // Broken in ways that downloads and tools break them.
  const tables = font(hand).tables;
  const cut = (tag: string, n: number): Uint8Array => tables.get(tag)!.subarray(0, n);
  const broken: [string, Uint8Array][] = [
    ['half', serif.subarray(0, serif.length / 2)],
    ['no-cmap', withTable(font(hand), 'cmap', null)],
    ['no-head', withTable(font(hand), 'head', null)],
    ['no-hmtx', withTable(font(hand), 'hmtx', null)],
    ['no-glyf', withTable({ ...font(hand), tables: new Map([...tables].filter(([t]) => t !== 'loca')) }, 'glyf', null)],
    ['no-os2', withTable(font(hand), 'OS/2', null)],
    ['magic', withTable(font(hand), 'head', patch16(tables.get('head')!, 12, 0))],
    ['em-of-8', withTable(font(hand), 'head', patch16(tables.get('head')!, 18, 8))],
    ['short-hmtx', withTable(font(hand), 'hmtx', cut('hmtx', 40))],
    ['few-glyphs', withTable(font(hand), 'maxp', patch16(tables.get('maxp')!, 4, 60))],
    ['short-loca', withTable(font(hand), 'loca', cut('loca', 40))],
    ['odd-weight', withTable(font(hand), 'OS/2', patch16(tables.get('OS/2')!, 4, 4000))],
  ];
  for (const [name, bytes] of broken) out.push([`${name}.ttf`, bytes]);
  const web = made(hand, containerRecipe('woff2'));
  out.push(['half.woff2', web.subarray(0, web.length / 2)]);
  // What people send in place of a font.
  out.push(
    ['bundle.zip', new Uint8Array([0x50, 0x4b, 3, 4, ...new Uint8Array(60)])],
    ['page.ttf', new TextEncoder().encode('<!doctype html><p>Not found')],
    ['empty.woff2', new Uint8Array(0)],
  );
  // Called what it is not.
  out.push(
    ['serif.woff2', serif],
    ['serif.woff', web],
    ['hand.otf', hand],
    ['otf.ttf', readFont('serifOtf')],
    ['web.ttf', web],
    ['two.ttf', out.find(([n]) => n === 'two.ttc')![1]],
  );
  // Too long a name, and too large a file, by places' limits of 40 and 64 letters, 0.5, 1, 5 and 20 MiB.
  for (const letters of [40, 41, 64, 65]) {
    const renamed = made(hand, [{ step: 'rename', options: { family: 'L'.repeat(letters) } }]);
    out.push([`name-${letters}.ttf`, renamed], [`name-${letters}.woff2`, made(renamed, containerRecipe('woff2'))]);
  }
  for (const kib of [600, 1100, 5200, 20_600]) {
    const noise = new Uint8Array(kib * 1024);
    for (let i = 0, x = 1; i < noise.length; i++) noise[i] = (x = (x * 1664525 + 1013904223) >>> 0) >>> 24;
    const large = withTable(font(hand), 'ZZZZ', noise);
    out.push([`large-${kib}.ttf`, large]);
    if (kib < 1000) out.push([`large-${kib}.woff2`, made(large, containerRecipe('woff2'))]);
  }
  return out;
}

test('what is foreseen and what the places answer agree in every one of more than 300 cases', async () => {
  const disagreements: string[] = [];
  let cases = 0;
  let taken = 0;
  for (const [name, bytes] of files())
    for (const kind of KINDS) {
      const { fit, codes } = foreseen(kind, name, bytes);
      const answer = await put(kind, name, bytes);
      const said = await answer.text();
      if ((fit === 'fits') !== (answer.status === 201))
        disagreements.push(`${name} × ${kind}: foreseen ${fit} (${codes.join(', ')}), answered ${answer.status} ${said.slice(0, 160)}`);
      if (answer.status === 201) await call(kind, 'DELETE', `fonts/${encodeURIComponent(name)}`);
      cases++;
      taken += Number(answer.status === 201);
    }
  expect(disagreements).toEqual([]);
  expect(cases).toBeGreaterThanOrEqual(300);
  // Neither all taken nor all refused.
  expect([taken > 80, cases - taken > 120]).toEqual([true, true]);
});

/** What a place tells of itself, as foresight takes it. */
async function stateOf(kind: Kind): Promise<PlaceState> {
  const told = (await (await call(kind, 'GET', 'fonts')).json()) as {
    faces: Omit<PlaceState['faces'][number], 'installId' | 'lastUsed'>[];
    types: string[] | null;
  };
  return { faces: told.faces.map((f) => ({ ...f, installId: f.name, lastUsed: null })), types: told.types };
}

test('a face whose names are taken is foreseen to be refused, replaced or let in beside', async () => {
  const hand = readFont('gochiHand');
  const newer = withTable(font(hand), 'post', patch16(font(hand).tables.get('post')!, 8, 0xff9c));
  const web = made(newer, containerRecipe('woff2'));
  for (const kind of KINDS) {
    const [first, second] = kind === 'website' || kind === 'store' ? [made(hand, containerRecipe('woff2')), web] : [hand, newer];
    const ending = first === hand ? 'ttf' : 'woff2';
    expect((await put(kind, `first.${ending}`, first)).status).toBe(201);
    const there = await stateOf(kind);
    const { fit, codes } = foreseen(kind, `second.${ending}`, second, there);
    const answer = await put(kind, `second.${ending}`, second);
    expect([kind, fit === 'fits']).toEqual([kind, answer.status === 201]);
    expect([kind, codes]).toEqual([kind, kind === 'print-shop' || kind === 'computer' ? ['name-taken'] : []]);
    const now = await stateOf(kind);
    // The design tool gives the name to the new file, web places keep both, the others the old one.
    expect([kind, now.faces.map((f) => f.name)]).toEqual([
      kind,
      kind === 'design-tool'
        ? [`second.${ending}`]
        : kind === 'website' || kind === 'store'
          ? [`first.${ending}`, `second.${ending}`]
          : [`first.${ending}`],
    ]);
    // The very same file again is no other face.
    expect(foreseen(kind, `again.${ending}`, kind === 'print-shop' || kind === 'computer' ? first : second, now).codes).toEqual([]);
    for (const f of now.faces) await call(kind, 'DELETE', `fonts/${f.name}`);
    expect((await stateOf(kind)).faces).toEqual([]);
  }
});

test('room, uploads and types are foreseen as the places count them', async () => {
  const web = made(readFont('gochiHand'), containerRecipe('woff2'));
  for (let i = 0; i < 30; i++) expect((await put('store', `f${i}.woff2`, web)).status).toBe(201);
  const full = await stateOf('store');
  const other = made(readFont('didot'), containerRecipe('woff2'));
  expect(foreseen('store', 'other.woff2', other, full)).toEqual({ fit: 'fits-after-remedy', codes: ['no-room'] });
  expect((await put('store', 'other.woff2', other)).status).toBe(409);
  await call('store', 'DELETE', 'fonts/f0.woff2');
  expect(foreseen('store', 'other.woff2', other, await stateOf('store')).fit).toBe('fits');
  expect((await put('store', 'other.woff2', other)).status).toBe(201);

  const names = ['alef', 'bee', 'cee'];
  for (let i = 0; i < 20; i++)
    expect((await put('design-tool', `up${i}.ttf`, readFont('gochiHand'), { 'x-upload': 'one' })).status).toBe(201);
  expect((await put('design-tool', `${names[0]!}.ttf`, readFont('didot'), { 'x-upload': 'one' })).status).toBe(409);
  expect((await put('design-tool', `${names[0]!}.ttf`, readFont('didot'), { 'x-upload': 'two' })).status).toBe(201);
  // Without a word about rights nothing is taken, and a set does not see what lies in another.
  expect((await put('design-tool', `${names[1]!}.ttf`, readFont('didot'), { 'x-statement': '' })).status).toBe(409);
  const elsewhere = await fetch(addresses.get('design-tool')!.replace('/ours', '/others/fonts'), {
    headers: { authorization: `Bearer ${KEY}` },
  });
  expect(((await elsewhere.json()) as { faces: unknown[] }).faces).toEqual([]);
  expect((await fetch(`${addresses.get('design-tool')!}/fonts`)).status).toBe(401);

  const site = addresses.get('website')!;
  const allow = (types: string[]): Promise<Response> =>
    fetch(`${site}/practice`, {
      method: 'POST',
      redirect: 'manual',
      body: new URLSearchParams([['has-types', '1'], ...types.map((t) => ['types', t])]),
    });
  expect((await put('website', 'hand.woff2', web)).status).toBe(201);
  expect((await fetch(`${site}/fonts/hand.woff2`)).headers.get('content-type')).toBe('font/woff2');
  await allow([]);
  expect(foreseen('website', 'hand.woff2', web, await stateOf('website')).codes).toEqual(['type-not-allowed']);
  expect((await put('website', 'more.woff2', web)).status).toBe(403);
  // What lies there is not served either.
  expect((await fetch(`${site}/fonts/hand.woff2`)).status).toBe(403);
  await allow(['woff2', 'woff']);
  expect((await fetch(`${site}/fonts/hand.woff2`)).status).toBe(200);
});

test('a place is broken on purpose, and is well again', async () => {
  const web = made(readFont('gochiHand'), containerRecipe('woff2'));
  const site = addresses.get('website')!;
  const break_ = (fault: string): Promise<Response> =>
    fetch(`${site}/practice`, { method: 'POST', redirect: 'manual', body: new URLSearchParams({ fault, 'fault-type': 'woff2' }) });
  const tried = async (fault: string, name = `${fault}.woff2`): Promise<number | string> => {
    await break_(fault);
    return put('website', name, web, { 'x-upload': fault }).then(
      (r) => r.status,
      () => 'no answer',
    );
  };
  const there = async (name: string): Promise<string> => {
    await break_('none');
    const answer = await fetch(`${site}/fonts/${name}`);
    return answer.status === 404 ? 'absent' : sha(new Uint8Array(await answer.arrayBuffer())) === sha(web) ? 'same' : 'other';
  };
  const told: Record<string, unknown> = {};
  for (const fault of ['down', 'full', 'refuses', 'drops', 'corrupts', 'silent'])
    told[fault] = [await tried(fault), await there(`${fault}.woff2`)];
  expect(told).toEqual({
    down: ['no answer', 'absent'],
    full: [507, 'absent'],
    refuses: [415, 'absent'],
    drops: [201, 'absent'],
    corrupts: [201, 'other'],
    silent: ['no answer', 'same'],
  });
  expect([await tried('half', 'one.woff2'), await tried('half', 'two.woff2')]).toEqual([201, 503]);
  await break_('none');
});
