import { spawnSync } from 'node:child_process';
import { createCanvas, GlobalFonts } from '@napi-rs/canvas';
import { decodeShapes, encodeShapes, editPicture, inkOf } from '@orderly-glyph/core';
import { routes, type Body, type Inquiry } from '@orderly-glyph/schema';
import PDFDocument from 'pdfkit';
import { buffer } from 'node:stream/consumers';
import { faceOf } from '../../../packages/core/test/face.js';
import { FONTS, readFont } from '../../../packages/core/test/fonts.js';
import { newMember, newOwner, startServer, type Person, type TestServer } from './setup.js';

let server: TestServer;
let owner: Person;
beforeAll(async () => {
  server = await startServer();
  owner = await newOwner(server.address, 'Signs');
});
afterAll(() => server.stop());

/** Words in a known face by Skia. */
function picture(font: keyof typeof FONTS, words: string) {
  GlobalFonts.registerFromPath(FONTS[font], font);
  const canvas = createCanvas(300, 90);
  const x = canvas.getContext('2d');
  x.fillStyle = '#fff';
  x.fillRect(0, 0, 300, 90);
  x.fillStyle = '#123';
  x.font = `48px ${font}`;
  x.fillText(words, 20, 60);
  return canvas;
}
async function decoded(bytes: Uint8Array, page = 1) {
  const sent = await owner.raw('POST', `/api/pictures/decoded?page=${page}`, new Uint8Array(bytes), {
    'content-type': 'application/octet-stream',
  });
  return {
    status: sent.status,
    answer: (await sent.json()) as { width: number; height: number; pages: number; png: string; error?: { message: string } },
  };
}

describe('pictures', () => {
  const canvas = picture('literata', 'Orchard');
  test('of every kind come back as PNG of their size, or smaller', async () => {
    const gif = Uint8Array.from(
      Buffer.from('47494638396110000c00800000ff0000ffffff2c0000000010000c000002118c8fa9cbed0fa39cb4da8bb3debcfb0f1600003b', 'hex'),
    );
    for (const [name, bytes, width, height] of [
      ['png', canvas.toBuffer('image/png'), 300, 90],
      ['jpeg', canvas.toBuffer('image/jpeg', 60), 300, 90],
      ['webp', canvas.toBuffer('image/webp', 80), 300, 90],
      ['gif', gif, 16, 12],
      [
        'svg',
        new TextEncoder().encode(
          '<svg xmlns="http://www.w3.org/2000/svg" width="400" height="100"><rect width="200" height="100" fill="#a00"/></svg>',
        ),
        1600,
        400,
      ],
    ] as const) {
      const { status, answer } = await decoded(bytes);
      expect([name, status, answer.width, answer.height, answer.pages]).toEqual([name, 200, width, height, 1]);
      expect(Buffer.from(answer.png, 'base64').subarray(1, 4).toString()).toBe('PNG');
    }
    const large = createCanvas(4000, 1000);
    large.getContext('2d').fillRect(0, 0, 10, 10);
    expect((await decoded(large.toBuffer('image/png'))).answer).toMatchObject({ width: 1600, height: 400 });
  });
  test('a page of a PDF is one, and pages that are not there, texts and broken files are refused in words', async () => {
    const pdf = new PDFDocument({ size: [200, 100] });
    pdf.rect(10, 10, 50, 50).fill('#000');
    pdf.addPage({ size: [300, 100] });
    pdf.end();
    const bytes = await buffer(pdf);
    const [first, second, third] = [await decoded(bytes, 1), await decoded(bytes, 2), await decoded(bytes, 3)];
    expect([first.answer.pages, second.answer.pages]).toEqual([2, 2]);
    expect(second.answer.width / second.answer.height).toBeCloseTo(3, 1);
    expect([third.status, third.answer.error?.message]).toEqual([422, expect.stringMatching(/2 pages/)]);
    expect((await decoded(new TextEncoder().encode('Dear all'))).answer.error?.message).toMatch(/no picture that is read here/);
    expect((await decoded(canvas.toBuffer('image/jpeg', 60).subarray(0, 900))).answer.error?.message).toMatch(/breaks off/);
    expect((await decoded(new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg"><path d="M'))).status).toBe(422);
  });
});

const reading: Inquiry['reading'] = {
  edits: [],
  ground: null,
  ink: null,
  level: null,
  specks: 0,
  pinholes: 0,
  word: 'Orchard',
  without: [],
  asWord: null,
  stretched: false,
  slanted: false,
};
function fields(font: keyof typeof FONTS, more: Partial<Body<typeof routes.createInquiry>> = {}): Body<typeof routes.createInquiry> {
  const canvas = picture(font, 'Orchard');
  const data = canvas.getContext('2d').getImageData(0, 0, 300, 90);
  const { field } = inkOf(editPicture({ width: 300, height: 90, data: data.data }, []));
  const values = Buffer.from(Uint8Array.from(field.values, (v) => Math.min(255, Math.round(160 * v))));
  return {
    title: 'Orchard sign',
    customer: 'Somebody',
    note: '',
    price: 30.5,
    currency: 'EUR',
    use: 'logo',
    open: true,
    reading,
    sureness: null,
    candidates: [],
    kept: { width: 300, height: 90, values: values.toString('base64') },
    png: canvas.toBuffer('image/png').toString('base64'),
    ...more,
  };
}
let literata = '';
let asked: Inquiry;

test('shapes of the library come in parts, each as the core makes them; nobody else gets them', async () => {
  literata = (await owner.bringIn([['a.ttf', readFont('literata')]])).items[0]!.faceId!;
  const pack = Buffer.from(await (await owner.raw('GET', '/api/pictures/shapes')).arrayBuffer());
  expect(pack.readUInt32BE(0)).toBe(1);
  const [a, b, c] = [4, 8, 12].map((at) => pack.readUInt32BE(at)) as [number, number, number];
  expect(pack.toString('utf8', 16, 16 + a)).toBe(literata);
  const bytes = new Uint8Array(pack.subarray(16 + a + b, 16 + a + b + c));
  expect(Buffer.compare(bytes, encodeShapes(faceOf(readFont('literata')))!)).toBe(0);
  expect(decodeShapes(bytes).letters.size).toBeGreaterThan(60);
  expect(Buffer.from(await (await owner.raw('GET', '/api/pictures/shapes?from=1')).arrayBuffer()).readUInt32BE(0)).toBe(0);
  const stranger = await newOwner(server.address, 'Elsewhere');
  expect(Buffer.from(await (await stranger.raw('GET', '/api/pictures/shapes')).arrayBuffer()).readUInt32BE(0)).toBe(0);
});

test('words are shaped as hb-shape shapes them, and what a face lacks is named', async () => {
  const { answer } = await owner.call(routes.shapeWords, { body: { text: 'AV中', faceIds: [literata] } });
  expect(answer[0]!.missing).toEqual(['中']);
  const { answer: plain } = await owner.call(routes.shapeWords, { body: { text: 'AV', faceIds: [literata] } });
  const xs = plain[0]!.polygons.flatMap((p) => p.filter((_, i) => i % 2 === 0));
  // Debian's hb-shape: the advance of A before V, kerned, says where V begins.
  const shaped = spawnSync('hb-shape', ['--output-format=json', '--no-glyph-names', FONTS.literata, 'AV'], { encoding: 'utf8' }).stdout;
  const [first] = JSON.parse(shaped) as { ax: number }[];
  const shapes = decodeShapes(encodeShapes(faceOf(readFont('literata')))!);
  const [A, V] = ['A', 'V'].map((c) => shapes.letters.get(c.codePointAt(0)!)!);
  expect(Math.max(...xs) - Math.min(...xs)).toBeCloseTo(first!.ax + V!.xMin + V!.width - A!.xMin, -1);
});

test('an inquiry is kept with its picture, changed by whoever has seen its last state, forgotten and taken back', async () => {
  const made = await owner.call(routes.createInquiry, { body: fields('gochiHand') });
  expect(made.status).toBe(200);
  asked = made.answer;
  expect(asked).toMatchObject({ title: 'Orchard sign', price: 30.5, currency: 'EUR', width: 300, height: 90, version: 1, news: null });
  const shown = await owner.raw('GET', `/api/inquiries/${asked.id}/picture.png`);
  expect([shown.headers.get('content-type'), (await shown.arrayBuffer()).byteLength]).toEqual([
    'image/png',
    Buffer.from(fields('gochiHand').png, 'base64').length,
  ]);
  const { png: _, ...rest } = fields('gochiHand', { note: 'Called back' });
  const params = { inquiryId: asked.id };
  expect((await owner.call(routes.changeInquiry, { params, body: { ...rest, version: 9 } })).status).toBe(409);
  asked = (await owner.call(routes.changeInquiry, { params, body: { ...rest, version: 1 } })).answer;
  expect([asked.version, asked.note]).toEqual([2, 'Called back']);
  await owner.raw('DELETE', `/api/inquiries/${asked.id}`);
  expect((await owner.call(routes.getInquiry, { params })).status).toBe(404);
  expect((await owner.call(routes.listInquiries)).answer).toEqual([]);
  expect((await owner.call(routes.returnInquiry, { params })).answer.id).toBe(asked.id);
  const viewer = await newMember(owner, 'viewer');
  expect((await viewer.call(routes.createInquiry, { body: fields('literata') })).status).toBe(403);
  expect((await viewer.call(routes.listInquiries)).answer.map((i) => [i.id, i.word])).toEqual([[asked.id, 'Orchard']]);
  for (const wrong of [{ png: Buffer.from('no picture').toString('base64') }, { price: -1 }, { title: '' }])
    expect((await owner.call(routes.createInquiry, { body: fields('literata', wrong) })).status).toBe(422);
});

test('a face that comes in later and fits is news, one that does not is none, and looking at it ends that', async () => {
  const params = { inquiryId: asked.id };
  const news = async (): Promise<Inquiry['news']> => {
    for (let i = 0; i < 80; i++) {
      const { answer } = await owner.call(routes.getInquiry, { params });
      if (answer.news) return answer.news;
      await new Promise((r) => setTimeout(r, 100));
    }
    return null;
  };
  await owner.bringIn([['d.ttf', readFont('didot')]]);
  await new Promise((r) => setTimeout(r, 2500));
  expect((await owner.call(routes.getInquiry, { params })).answer.news).toBeNull();
  const { items } = await owner.bringIn([['g.ttf', readFont('gochiHand')]]);
  const found = await news();
  expect(found).toMatchObject({ faceId: items[0]!.faceId, family: 'Gochi Hand' });
  // The desk says so until somebody has looked.
  const desk = async (): Promise<string[]> =>
    (await owner.call(routes.getDesk)).answer.filter((i) => i.kind === 'inquiry').map((i) => i.message);
  expect(await desk()).toEqual(['Gochi Hand may be the face of “Orchard sign”']);
  const { png: _, ...rest } = fields('gochiHand');
  const seen = await owner.call(routes.changeInquiry, { params, body: { ...rest, version: 2 } });
  expect([seen.status, seen.answer.news, await desk()]).toEqual([200, null, []]);
});

test('what is on record about a face: its licenses with their prices, and decorated cousins of its name', async () => {
  await owner.call(routes.createLicense, {
    body: {
      name: 'Desktop license',
      kind: 'bought',
      spdxId: null,
      grantor: 'A foundry',
      uses: { logo: 'yes' },
      startsOn: null,
      endsOn: null,
      note: '',
      price: 49,
      currency: 'EUR',
      faceIds: [literata],
      companionIds: [],
      confirmed: true,
    },
  });
  const { answer } = await owner.call(routes.describeCandidates, { body: { faceIds: [literata] } });
  expect(answer[0]!.licenses).toEqual([
    expect.objectContaining({ name: 'Desktop license', grantor: 'A foundry', price: 49, currency: 'EUR', confirmed: true }),
  ]);
  expect(answer[0]!.cousins).toEqual([]);
});
