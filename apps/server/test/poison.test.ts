import { readFileSync } from 'node:fs';
import { deflateSync } from 'node:zlib';
import { nodeCodec } from '@orderly-glyph/node';
import { routes } from '@orderly-glyph/schema';

import { readFontFile, writeWoff2 } from '../../../packages/core/src/sfnt/index.js';
import { random, readFont, withTable } from '../../../packages/core/test/fonts.js';
import { newOwner, startServer, type Person, type TestServer } from './setup.js';
import { zip } from './zips.js';

/** What strangers send to freeze, starve or fill a server: each file ends with a sentence, and the others go on. */
let server: TestServer;
let owner: Person;
beforeAll(async () => {
  server = await startServer();
  owner = await newOwner(server.address);
});
afterAll(() => server.stop());

const text = (s: string): Uint8Array => new TextEncoder().encode(s);

/** Resident memory of the server and all it started, in MiB at the most while something runs. Source: proc(5). */
async function peakOf<T>(work: () => Promise<T>): Promise<{ result: T; each: number }> {
  let each = 0;
  const children = (pid: number): number[] => {
    try {
      const own = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').filter(Boolean).map(Number);
      return own.flatMap((c) => [c, ...children(c)]);
    } catch {
      return [];
    }
  };
  const timer = setInterval(() => {
    for (const pid of children(server.child.pid!))
      try {
        const rss = Number(/^VmRSS:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
        each = Math.max(each, rss);
      } catch {
        // It ended meanwhile.
      }
  }, 10);
  try {
    return { result: await work(), each };
  } finally {
    clearInterval(timer);
  }
}

/** A PDF of one page whose content unpacks to as many bytes. Source: ISO 32000-1, sections 7.3 to 7.5. */
function pdfBomb(unpacked: number): Uint8Array {
  const stream = deflateSync(Buffer.alloc(unpacked, ' '), { level: 9 });
  const objects = [
    '<</Type/Catalog/Pages 2 0 R>>',
    '<</Type/Pages/Kids[3 0 R]/Count 1>>',
    '<</Type/Page/Parent 2 0 R/MediaBox[0 0 100 100]/Contents 4 0 R>>',
    null,
  ];
  const parts: Buffer[] = [Buffer.from('%PDF-1.4\n')];
  const at: number[] = [];
  objects.forEach((o, i) => {
    at.push(parts.reduce((n, p) => n + p.length, 0));
    parts.push(
      o === null
        ? Buffer.concat([
            Buffer.from(`${i + 1} 0 obj\n<</Length ${stream.length}/Filter/FlateDecode>>stream\n`),
            stream,
            Buffer.from('\nendstream endobj\n'),
          ])
        : Buffer.from(`${i + 1} 0 obj\n${o}\nendobj\n`),
    );
  });
  const start = parts.reduce((n, p) => n + p.length, 0);
  parts.push(
    Buffer.from(
      `xref\n0 5\n0000000000 65535 f \n${at.map((a) => `${String(a).padStart(10, '0')} 00000 n \n`).join('')}trailer<</Size 5/Root 1 0 R>>\nstartxref\n${start}\n%%EOF`,
    ),
  );
  return new Uint8Array(Buffer.concat(parts));
}

test('comments without an end, and texts made to be read slowly, are read in no time', async () => {
  const began = Date.now();
  const { items } = await owner.bringIn([
    // 443 bytes of this once froze a server for good.
    ['freeze.txt', text(`${'<!---->'.repeat(63)}x`)],
    ['freeze.html', text(`${'<!-- -->\n'.repeat(400)}<!--`)],
    ['freeze.svg', text(`<?xml ${'<!--'.repeat(4000)}`)],
    ['spaces.txt', text(`The license${' '.repeat(300_000)}with Reserved Font Name${' '.repeat(50_000)}x`)],
    ['words.txt', text('licensed under '.repeat(20_000))],
    ['no-end.txt', text(`You may not ${'without any warranty '.repeat(15_000)}`)],
    ['commas.txt', text(`open font license${','.repeat(200_000)}`)],
    ['brackets.txt', text('<'.repeat(100_000) + '['.repeat(100_000))],
    ['good.ttf', readFont('gochiHand')],
  ]);
  expect(Object.fromEntries(items.map((i) => [i.path, i.state]))).toMatchObject({
    'freeze.txt': 'companion',
    'words.txt': 'companion',
    'good.ttf': 'added',
  });
  expect(items.filter((i) => i.state === 'waiting')).toEqual([]);
  // The limit of one reading is 20 to 30 seconds, so nothing of this was ended by it.
  expect(items.filter((i) => /computing time|memory/.test(i.reason))).toEqual([]);
  expect(Date.now() - began).toBeLessThan(60_000);
});

test('small files that unpack to gigabytes end with a sentence, within their memory, and their siblings go on', async () => {
  const sfnt = readFontFile(readFont('gochiHand'), nodeCodec).fonts[0]!;
  const hidden = writeWoff2(readFontFile(withTable(sfnt, 'zzzz', new Uint8Array(150 * 1024 * 1024)), nodeCodec).fonts[0]!, nodeCodec);
  const heavy = await zip([
    ['[Content_Types].xml', '<Types/>'],
    ['word/document.xml', `<w:document>${'<w:p><w:r><w:t>a</w:t></w:r></w:p>'.repeat(400_000)}</w:document>`],
  ]);
  expect(heavy.length).toBeLessThan(1024 * 1024);
  expect(hidden.length).toBeLessThan(200_000);
  const { result, each } = await peakOf(() =>
    owner.bringIn([
      ['terms.docx', new Uint8Array(heavy)],
      ['terms.pdf', pdfBomb(1_500_000_000)],
      ['font.woff2', hidden],
      ['good.ttf', readFont('literata')],
      ['OFL.txt', text('You may use it for anything.')],
    ]),
  );
  const by = Object.fromEntries(result.items.map((i) => [i.path, i]));
  expect([by['terms.docx']!.state, by['terms.docx']!.reason]).toEqual(['companion', expect.stringMatching(/unpack to more/)]);
  expect(by['terms.pdf']!.reason).toMatch(/set aside|could not be read|not read/);
  expect([by['font.woff2']!.state, by['font.woff2']!.reason]).toEqual(['refused', expect.stringMatching(/far larger than real fonts/)]);
  expect([by['good.ttf']!.state, by['OFL.txt']!.state]).toEqual(['added', 'companion']);
  // The limit is 512 MiB; what a process takes between two looks of its keeper is allowed for.
  expect(each).toBeLessThan(800);
});

test('archives in archives are counted by bytes as well as by entries', async () => {
  const zeros = Buffer.alloc(90 * 1024 * 1024);
  for (let i = 0; i < zeros.length; i += 300) zeros[i] = i & 255;
  const inner = await zip([
    ['a.txt', zeros],
    ['b.txt', zeros],
  ]);
  const outer = await zip([
    ['one.zip', inner],
    ['two.zip', inner],
    ['three.zip', inner],
  ]);
  const { items } = await owner.bringIn([['outer.zip', new Uint8Array(outer)]]);
  expect(items.map((i) => [i.state, i.reason])).toEqual([['refused', expect.stringMatching(/500 MiB once unpacked/)]]);
});

test('what is here already is looked up before it is inspected', async () => {
  const bytes = readFont('didot');
  const many = await zip(Array.from({ length: 800 }, (_, i) => [`${i}.ttf`, bytes] as const));
  const { items, intake } = await owner.bringIn([['many.zip', new Uint8Array(many)]]);
  expect(intake.counts).toMatchObject({ added: 1, 'already-here': 799 });
  expect(items).toHaveLength(800);
  const [[row]] = (await server.sql.query('SELECT TIMESTAMPDIFF(MICROSECOND, created_at, finished_at) / 1e6 AS s FROM job WHERE id = ?', [
    intake.jobId,
  ])) as unknown as [[{ s: number }]];
  // Inspecting one takes a quarter of a second or so: eight hundred of them would take minutes.
  expect(Number(row.s)).toBeLessThan(100);
});

test('random bytes and damaged documents never stop the reader', async () => {
  const next = random(5);
  const starts = [
    '%PDF-1.4\n',
    '{\\rtf1 ',
    'PK\x03\x04',
    '<!doctype html>',
    'MIME-Version: 1.0\n',
    '\xff\xfe',
    '',
    'wOF2',
    'wOFF',
    'OTTO',
    'ttcf',
    '\x00\x01\x00\x00',
  ];
  const files = Array.from({ length: 48 }, (_, i): [string, Uint8Array] => {
    const head = Buffer.from(starts[i % starts.length]!, 'latin1');
    const rest = Uint8Array.from({ length: 200 + Math.floor(next() * 3000) }, () => next() * (i % 2 ? 256 : 128));
    return [`file-${i}.bin`, new Uint8Array(Buffer.concat([head, rest]))];
  });
  const { items } = await owner.bringIn(files);
  expect(items.map((i) => i.state)).not.toContain('waiting');
  for (const i of items.filter((x) => x.state === 'refused')) expect(i.reason).toMatch(/^[A-Z].{15,}\.$/);
});

test('a line of another workspace is set while poison and reports are worked on', async () => {
  const other = await newOwner(server.address, 'Quiet');
  await other.bringIn([['a.ttf', readFont('gochiHand')]]);
  const face = (await other.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  // Four documents that keep every reader busy until they are ended, and a long report.
  const { answer: intake } = await owner.call(routes.createIntake, { body: { label: 'poison' } });
  for (let i = 0; i < 4; i++) await owner.upload(intake.id, `p${i}.pdf`, pdfBomb(1_200_000_000 + i));
  const { answer: job } = await owner.call(routes.startIntake, { params: { intakeId: intake.id } });
  const audit = owner.raw('GET', '/api/rights/audit/file?as=pdf');
  const times: number[] = [];
  for (let i = 0; i < 40; i++) {
    const began = performance.now();
    const response = await other.raw(
      'GET',
      `/api/faces/${face}/line?text=${encodeURIComponent(`Seeds ${i} ${String.fromCharCode(65 + i)}`)}`,
    );
    expect(response.status).toBe(200);
    await response.arrayBuffer();
    times.push(performance.now() - began);
  }
  await audit;
  await owner.call(routes.cancelJob, { params: { jobId: job.id } });
  // No line waited for the poison to be ended, which takes half a minute: they went past it.
  times.sort((a, b) => a - b);
  expect(times[Math.floor(times.length * 0.95)]!).toBeLessThan(10_000);
  console.log(`lines beside poison: median ${times[20]!.toFixed(0)} ms, 95% under ${times[38]!.toFixed(0)} ms`);
});
