import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import { unzip, zip } from '../../server/test/zips.js';

const dir = mkdtempSync(join(tmpdir(), 'glyph-icons-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const glyph = (...args: string[]) => spawnSync(process.execPath, ['apps/cli/dist/glyph.js', 'icons', ...args], { encoding: 'utf8' });
const svg = (body: string): string => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">${body}</svg>`;
const at = (...path: string[]): string => join(dir, ...path);
interface Report {
  release: number;
  em: number;
  drawings: { name: string; codePoint: string; points: number; findings: { code: string }[]; notes: string[] }[];
  refused: { path: string; message: string }[];
}
const report = (name: string): Report => JSON.parse(readFileSync(at(name), 'utf8')) as Report;
const kit = (name: string): Promise<Map<string, Buffer>> => unzip(readFileSync(at(name)));

test('a folder becomes a kit; next year’s folder keeps every code point, and the same folder gives the same bytes', async () => {
  mkdirSync(at('first'));
  for (const [name, body] of [
    ['Sun.svg', '<circle cx="12" cy="12" r="6"/>'],
    ['water.svg', '<path d="M12 2l6 12a6 6 0 0 1-12 0z"/>'],
    ['frost.svg', '<path stroke="#000" stroke-width="2" d="M12 2v20M3 7l18 10M3 17L21 7"/>'],
  ] as const)
    writeFileSync(at('first', name), svg(body));
  writeFileSync(at('first', 'letter.svg'), 'not a drawing');
  const made = glyph(
    at('first'),
    '--name',
    'Field Icons',
    '--prefix',
    'field',
    '--ligatures',
    '-o',
    at('one.zip'),
    '--report',
    at('one.json'),
    '--day',
    '2026-03-01',
  );
  // What cannot be read is told and the rest is made; the exit says that something was left out.
  expect([made.status, made.stderr]).toEqual([1, expect.stringMatching(/letter\.svg is left out: This is no SVG/)]);
  const one = report('one.json');
  expect([one.release, one.em, one.drawings.map((d) => [d.name, d.codePoint])]).toEqual([
    1,
    1200,
    [
      ['sun', 'U+E000'],
      ['frost', 'U+E001'],
      ['water', 'U+E002'],
    ],
  ]);
  expect(one.drawings.every((d) => d.points > 3 && d.findings.length === 0)).toBe(true);
  const files = await kit('one.zip');
  writeFileSync(at('old.json'), files.get('icon-set.json')!);
  expect(JSON.parse(files.get('icon-set.json')!.toString())).toMatchObject({
    facts: { family: 'Field Icons', prefix: 'field-', base: 'field-icon' },
  });

  // The file is what its published description says.
  const schema = z.fromJSONSchema(JSON.parse(readFileSync('docs/icon-set.schema.json', 'utf8')) as Parameters<typeof z.fromJSONSchema>[0]);
  const manifest: unknown = JSON.parse(files.get('icon-set.json')!.toString());
  expect(schema.safeParse(manifest).error).toBe(undefined);
  expect(schema.safeParse({ ...(manifest as object), version: 2 }).success).toBe(false);

  // A year on: one drawing gone, one new that sorts first, one drawn anew; as a ZIP this time.
  const next = await zip([
    ['icons/bee.svg', svg('<circle cx="12" cy="12" r="4"/>')],
    ['icons/sun.svg', svg('<circle cx="12" cy="12" r="8"/>')],
    ['icons/water.svg', svg('<path d="M12 2l6 12a6 6 0 0 1-12 0z"/>')],
    ['icons/read me.txt', 'hello'],
  ]);
  writeFileSync(at('next.zip'), next);
  const args = [at('next.zip'), '--manifest', at('old.json'), '--ligatures', '--day', '2027-03-01'];
  expect(glyph(...args, '-o', at('two.zip'), '--report', at('two.json')).status).toBe(0);
  const two = report('two.json');
  expect([two.release, Object.fromEntries(two.drawings.map((d) => [d.name, d.codePoint]))]).toEqual([
    2,
    { sun: 'U+E000', water: 'U+E002', bee: 'U+E003' },
  ]);
  expect((await kit('two.zip')).get('RELEASE.txt')!.toString()).toMatch(
    /Added\n {2}bee\n\nDrawn anew\n {2}sun\n\nRemoved .*\n {2}frost\n[^]*U\+E001 \(frost\) shows nothing/,
  );
  expect(glyph(...args, '-o', at('again.zip')).status).toBe(0);
  expect(readFileSync(at('again.zip')).equals(readFileSync(at('two.zip')))).toBe(true);

  // The year after: the drawing comes back as another; the reserved code point is not its own again.
  writeFileSync(at('old2.json'), (await kit('two.zip')).get('icon-set.json')!);
  writeFileSync(at('third.zip'), await zip([['frost.svg', svg('<rect width="9" height="9"/>')]]));
  expect(glyph(at('third.zip'), '--manifest', at('old2.json'), '-o', at('three.zip'), '--report', at('three.json')).status).toBe(0);
  expect(report('three.json').drawings.map((d) => d.codePoint)).toEqual(['U+E004']);
}, 60_000);

test('options that cannot be meant are refused with the usage, and nothing is written', () => {
  writeFileSync(at('empty.zip'), 'PK');
  mkdirSync(at('none'));
  for (const [args, why] of [
    [[], /one folder or ZIP/],
    [[at('none'), '--name', 'A', '--prefix', 'a', '-o', at('x.zip')], /There are no SVG files/],
    [[at('none'), '--name', 'A', '--prefix', '9', '-o', at('x.zip')], /begins with a letter/],
    [[at('none'), '--name', 'A', '--prefix', 'a', '--upem', '5', '-o', at('x.zip')], /from 16 to 16384/],
    [[at('none'), '--name', 'A', '--prefix', 'a', '--selector', 'id', '-o', at('x.zip')], /class or attribute/],
    [[at('empty.zip'), '--name', 'A', '--prefix', 'a', '-o', at('x.zip')], /broken/],
    [[at('first'), '-o', at('x.zip')], /needs --name and --prefix/],
    [[at('first'), '--manifest', at('first', 'Sun.svg'), '-o', at('x.zip')], /no file of an icon set/],
  ] as const) {
    const run = glyph(...args);
    expect([run.status === 0, run.stderr]).toEqual([false, expect.stringMatching(why)]);
  }
  expect(() => readFileSync(at('x.zip'))).toThrow();
});

test('the em follows the grid or what was asked for', () => {
  const em = (...more: string[]): number => {
    rmSync(at('em.json'), { force: true });
    rmSync(at('em.zip'), { force: true });
    glyph(at('first'), '--name', 'A', '--prefix', 'a', ...more, '-o', at('em.zip'), '--report', at('em.json'));
    return report('em.json').em;
  };
  expect([em('--upem', '2048'), em('--grid', '16')]).toEqual([2048, 1024]);
}, 30_000);
