import { decodeEmbedding } from '../face/index.js';
import { verdict } from '../rights/index.js';
import { containerRecipe } from '../convert/index.js';
import type { FontFormat } from '../sfnt/index.js';
import {
  batchOf,
  CHECKS,
  chosenRemedies,
  contextFor,
  contradictions,
  fitOf,
  hardStop,
  isOverridable,
  mendAll,
  preflight,
  PROFILES,
  profile,
  profileFrom,
  rulesOf,
  type CheckContext,
  type Profile,
} from './index.js';

const website = profile('website')!;
const record = {
  id: 'l',
  name: 'OFL',
  kind: 'open',
  spdxId: 'OFL-1.1',
  confirmed: true,
  uses: { website: 'yes' },
  startsOn: null,
  endsOn: null,
} as const;
/** `convertTo` stands for the recipe that changes the container, `converted` for what it made. */
interface Input extends Partial<CheckContext> {
  convertTo?: string;
  converted?: { format: FontFormat; bytes: number };
}
const NO_FACTS = { outlines: 'glyf', axes: [], color: [], embedding: decodeEmbedding(0, 4), findings: [], instances: [] } as const;
const input = ({ convertTo, converted, ...known }: Input = {}, kind = website): CheckContext => {
  const files = known.files ?? [{ format: 'ttf', bytes: 300_000 }];
  return contextFor(
    kind,
    {
      family: 'Literata',
      style: 'Regular',
      format: files[0]!.format,
      facts: { ...NO_FACTS, axes: [], color: [], findings: [], instances: [] },
      files,
      sha256: 'a',
    },
    {
      placeName: 'the shop',
      verdicts: [verdict('website', [record], decodeEmbedding(0, 4), '2026-01-01')],
      recipe: convertTo ? containerRecipe(convertTo) : [],
      made: converted ? { ...converted, sha256: null } : null,
      ...known,
    },
  );
};
const codes = (changes: Input = {}): string[] => preflight(input(changes)).map((f) => `${f.severity} ${f.code}`);

test('the container is foreseen, and the remedy is one press', () => {
  expect(codes()).toEqual(['stops format']);
  expect(preflight(input())[0]!.remedies).toMatchObject([
    { id: 'way', label: 'Convert to WOFF2', steps: containerRecipe('woff2'), goTo: null, forbidden: null },
  ]);
  expect(codes({ convertTo: 'woff2', converted: { format: 'woff2', bytes: 90_000 } })).toEqual(['mended converted']);
  expect(
    codes({
      files: [
        { format: 'ttf', bytes: 1 },
        { format: 'woff2', bytes: 90_000 },
      ],
    }),
  ).toEqual([]);
});

test('size, embedding permission, faults and rights are foreseen', () => {
  expect(codes({ convertTo: 'woff2', converted: { format: 'woff2', bytes: 1024 * 1024 + 1 } })).toEqual(['stops too-large']);
  expect(codes({ convertTo: 'woff2', converted: { format: 'woff2', bytes: 1024 * 1024 } })).toEqual(['mended converted']);
  expect(codes({ files: [{ format: 'woff', bytes: 2_000_000 }] })).toEqual(['stops too-large']);
  expect(preflight(input({ files: [{ format: 'woff', bytes: 2_000_000 }] }))[0]!.remedies[0]!.steps).toEqual(containerRecipe('woff2'));
  expect(codes({ embedding: decodeEmbedding(2, 4) })).toContain('stops embedding-restricted');
  expect(codes({ embedding: decodeEmbedding(0x200, 4) })).toContain('stops embedding-bitmap-only');
  // A place that does not look at the bits takes such files; the license is another matter.
  const indifferent = { ...website, embedding: { restricted: 'accepted', bitmapOnly: 'accepted' } as const };
  for (const bits of [2, 0x200])
    expect(preflight({ ...input({ embedding: decodeEmbedding(bits, 4) }), profile: indifferent }).map((f) => f.code)).toEqual(['format']);
  expect(codes({ faults: [{ code: 'bad-glyph', severity: 'blocks', message: 'Glyph 3 is damaged.' }] })).toContain('stops bad-glyph');
  expect(codes({ faults: [{ code: 'bad-weight', severity: 'fault', message: 'Weight 4000.' }] })).not.toContain('stops bad-weight');
  expect(codes({ verdicts: [verdict('website', [], decodeEmbedding(0, 4), '2026-01-01')] })).toContain('ask right-unclear');
  expect(codes({ verdicts: [verdict('website', [{ ...record, endsOn: '2025-01-01' }], decodeEmbedding(0, 4), '2026-01-01')] })).toContain(
    'stops no-right',
  );
});

test('a conversion asks the right to change the file, and what is near its end is said', () => {
  const own = { ...record, spdxId: null, kind: 'bought' } as const;
  const changing = (answer: 'yes' | 'no') =>
    verdict('changing', [{ ...own, uses: { changing: answer } }], decodeEmbedding(0, 4), '2026-01-01', { change: 'container' });
  const yes = input().verdicts[0]!;
  const mended = { convertTo: 'woff2', converted: { format: 'woff2', bytes: 90_000 } } as const;
  expect(codes({ ...mended, verdicts: [yes, changing('no')] })).toContain('stops no-right-to-change');
  expect(codes({ ...mended, verdicts: [yes, changing('yes')] })).toEqual(['mended converted']);
  expect(codes({ ...mended, notes: ['It ends on 2026-01-20.'] })).toContain('note right-near-its-end');
});

test('a finding says what is wrong, why the place minds, and what mends it', () => {
  for (const f of preflight(input({ embedding: decodeEmbedding(2, 4) }))) {
    expect(f.message.split('. ').length).toBeGreaterThan(1);
    expect(f.remedies).toHaveLength(1);
  }
});

test('what a place refuses nobody may override, a missing right an owner may', () => {
  const no = verdict('website', [{ ...record, endsOn: '2025-01-01' }], decodeEmbedding(0, 4), '2026-01-01');
  const ready = [{ format: 'woff2', bytes: 1000 }] as const;
  const right = preflight(input({ verdicts: [no], files: ready }));
  expect([isOverridable(right), hardStop(right)]).toEqual([true, null]);
  const both = preflight(input({ verdicts: [no], files: ready, embedding: decodeEmbedding(2, 4) }));
  expect([isOverridable(both), hardStop(both)]).toEqual([false, expect.stringMatching(/forbids embedding/)]);
});

test('every profile names checks that exist, and formats it prefers are formats it takes', () => {
  for (const p of PROFILES) {
    expect(p.checks.filter((id) => !CHECKS.some((c) => c.id === id))).toEqual([]);
    expect(p.accepts.formats).toContain(p.accepts.prefer);
    for (const word of ['{workspace}', '{face}', '{place}']) expect(p.statement).toContain(word);
  }
});

const at = (id: string, changes: Input = {}, state: Partial<CheckContext['state']> = {}): CheckContext => {
  const context = input(changes, profile(id)!);
  return { ...context, state: { ...context.state, ...state } };
};
const found = (context: CheckContext): [string, string][] => preflight(context).map((f) => [f.code, f.remedies.map((r) => r.id).join(' ')]);

test('a face that no step turns into what a folder takes is told so', () => {
  const look = (format: 'woff' | 'ttc', outlines: 'glyf' | 'CFF') =>
    preflight(at('folder', { files: [{ format, bytes: 1000 }] }, { format, outlines }))[0];
  expect(look('woff', 'CFF')!.remedies[0]!.steps).toEqual(containerRecipe('otf'));
  expect(look('woff', 'glyf')!.remedies[0]!.steps).toEqual(containerRecipe('ttf'));
});

test('variable, colored and collected faces get the remedy that their place needs', () => {
  const instances = [
    ['Bold', 'wght=700'],
    ['Caption Thin', 'wght=100'],
  ] as const;
  expect(found(at('print-shop', { instances }, { variable: true }))).toEqual([['variable', 'way pin Bold']]);
  const [pinned] = preflight(at('print-shop', { instances }, { variable: true }));
  expect(pinned!.remedies.map((r) => r.steps[0])).toEqual([
    { step: 'instance', options: {} },
    { step: 'instance', options: { at: 'wght=700' } },
  ]);
  expect(found(at('design-tool', {}, { variable: true }))).toEqual([]);
  expect(found(at('design-tool', {}, { color: true }))).toEqual([['color', 'way']]);
  // Pictures alone leave nothing when their color is taken out.
  expect(found(at('design-tool', {}, { color: true, outlines: 'none' }))).toEqual([['color', 'choose-another']]);
  const ttc = [{ format: 'ttc', bytes: 1000 }] as const;
  expect(found(at('print-shop', { files: ttc }))).toEqual([['collection', 'way']]);
  expect(found(at('design-tool', { files: [{ ...ttc[0], whole: true }] }))).toEqual([]);
  // Not all of its faces may go along, so this one is taken out.
  expect(found(at('design-tool', { files: ttc }))).toEqual([['collection', 'way']]);
});

test('a remedy that the license forbids is shown as such, with the reason, and is never carried out', () => {
  const no = { answer: 'no' as const, reasons: ['The license says no.'] };
  const mayChange = (change: string) => (change === 'container' ? { answer: 'yes' as const, reasons: [] } : no);
  const context = at('print-shop', { mayChange }, { variable: true });
  expect(preflight(context)[0]!.remedies[0]).toMatchObject({ id: 'way', forbidden: 'The license says no.' });
  expect([fitOf(preflight(context)), mendAll(preflight(context)), chosenRemedies(context, ['way'])]).toEqual([
    'does-not-fit',
    null,
    { recipe: [], removes: [] },
  ]);
  expect(chosenRemedies(at('website', { mayChange }), ['way', 'smaller', 'no such']).recipe).toEqual(containerRecipe('woff2'));
});

test('what one remedy cannot mend does not fit, whatever another one mends', () => {
  const both = preflight(at('website', { embedding: decodeEmbedding(2, 4) }));
  expect(both.filter((f) => f.severity === 'stops').map((f) => f.code)).toEqual(['embedding-restricted', 'format']);
  expect([fitOf(both), mendAll(both)]).toEqual(['does-not-fit', null]);
  expect([fitOf(preflight(at('website'))), mendAll(preflight(at('website')))]).toEqual(['fits-after-remedy', ['way']]);
});

test('a file that is too large is packed, cut down to what the texts use, or given up, in this order', () => {
  const keep = [0x20, 0x7e];
  const large = { files: [{ format: 'ttf', bytes: 30_000_000 }], keep, estimate: () => 400_000 } as const;
  const tool = at('design-tool', large);
  expect(found(tool)).toEqual([['too-large', 'smaller']]);
  expect(chosenRemedies(tool, ['smaller']).recipe).toEqual([{ step: 'subset', options: { runs: keep } }]);
  // What no cutting would make small enough is not offered.
  expect(found(at('design-tool', { ...large, estimate: () => 50_000_000 }))).toEqual([['too-large', 'choose-another']]);
  expect(found(at('design-tool', { ...large, keep: null }))).toEqual([['too-large', 'choose-another']]);
  // Converted first, then found to be too large still: both remedies together keep every step once, in order.
  const web = at('store', { ...large, estimate: () => 400_000 });
  expect(chosenRemedies(web, ['way']).recipe).toEqual(containerRecipe('woff2'));
  const both = chosenRemedies({ ...web, files: [{ format: 'ttf', bytes: 2_000_000 }] }, ['way', 'smaller']).recipe;
  expect(both.map((r) => r.step)).toEqual(['subset', 'container']);
  const made = { ...web, recipe: containerRecipe('woff2'), made: { format: 'woff2', bytes: 600_000, sha256: null } } as const;
  expect(preflight(made)[0]!.remedies[0]).toMatchObject({
    id: 'smaller',
    steps: [
      { step: 'subset', options: { runs: keep } },
      { step: 'container', options: { to: 'woff2' } },
    ],
  });
});

const there = (n: number, more: Partial<NonNullable<CheckContext['there']>['faces'][number]> = {}): NonNullable<CheckContext['there']> => ({
  types: null,
  faces: Array.from({ length: n }, (_, i) => ({
    name: `${i}.ttf`,
    family: `Other ${i}`,
    style: 'Regular',
    sha256: `${i}`,
    installId: `i${i}`,
    lastUsed: `2026-01-${String(10 + ((i * 7) % 20)).padStart(2, '0')}`,
    ...more,
  })),
});

test('room is made by what is used least, each face of a batch for itself, and only by what is ours', () => {
  const batch = batchOf([0, 1, 2].map((i) => ({ family: `F${i}`, style: 'Regular' })));
  const full = (position: number, state = there(99)) => preflight(at('design-tool', { there: state, batch: batch[position]! }));
  expect(full(0)).toEqual([]);
  expect([1, 2].map((p) => full(p)[0]!.code)).toEqual(['no-room', 'no-room']);
  // Days 10 (i = 0, 20, ...) are the oldest; ties stay in order.
  expect([1, 2].map((p) => full(p)[0]!.remedies[0]!.removes)).toEqual([['i0'], ['i20']]);
  expect(full(1, there(99, { installId: null }))[0]!.remedies).toEqual([]);
  expect(full(2)[0]!.remedies[0]!.will).toMatch(/Other 20 Regular \(last used 2026-01-10\)/);
});

test('names that are taken: replaced, refused or beside, and never what others put there', () => {
  const taken = there(1, { family: 'LITERATA', style: 'regular' });
  expect(found(at('computer', { there: taken }))).toEqual([['name-taken', 'replace rename']]);
  expect(chosenRemedies(at('computer', { there: taken }), ['replace'])).toEqual({ recipe: [], removes: ['i0'] });
  expect(found(at('computer', { there: there(1, { ...taken.faces[0]!, installId: null }) }))).toEqual([['name-taken', 'place rename']]);
  // Where one of two is somebody else's, removing ours would not make the name free.
  const mixed = { types: null, faces: [taken.faces[0]!, { ...taken.faces[0]!, name: 'x', installId: null }] };
  expect(found(at('computer', { there: mixed }))).toEqual([['name-taken', 'place rename']]);
  expect(found(at('computer', { there: there(1, { ...taken.faces[0]!, sha256: 'a' }) }))).toEqual([['already-there', '']]);
  expect(found(at('design-tool', { there: taken }))).toEqual([['replaces-another', '']]);
  // A face that takes another's place needs no room.
  const hundred = { types: null, faces: [...there(99).faces, ...taken.faces] };
  expect(found(at('design-tool', { there: hundred }))).toEqual([['replaces-another', '']]);
  expect(found(at('website', { files: [{ format: 'woff2', bytes: 9 }], there: taken }))).toEqual([]);
  const twins = batchOf([
    { family: 'Literata', style: 'Regular' },
    { family: 'Literata', style: 'REGULAR' },
  ]);
  expect(twins.map((b) => b.twin)).toEqual([null, 'Literata Regular']);
  expect(found(at('computer', { batch: twins[1]! }))).toEqual([['name-twice', 'rename']]);
  expect(chosenRemedies(at('computer', { batch: twins[1]! }), ['rename']).recipe).toEqual([
    { step: 'rename', options: { family: 'Literata Two' } },
  ]);
});

test('names of files and families, types that are served, and uploads', () => {
  expect(found(at('computer', { fileName: 'a.woff' }))).toEqual([['wrong-extension', 'right-name']]);
  // OpenType specification, "Filenames": both endings are used for either kind of outlines.
  expect(found(at('computer', { fileName: 'a.otf' }))).toEqual([]);
  const letters = (n: number) => found({ ...at('print-shop'), family: 'L'.repeat(n) }).map(([code]) => code);
  expect([letters(40), letters(41)]).toEqual([[], ['family-name-too-long']]);
  const long = { ...at('print-shop'), family: `${'Long '.repeat(9)}Name` };
  expect([...String(chosenRemedies(long, ['rename']).recipe[0]!.options.family)].length).toBeLessThanOrEqual(40);
  const web = [{ format: 'woff2', bytes: 9 }] as const;
  const served = (types: string[] | null) => found(at('website', { files: web, there: { faces: [], types } })).map(([code]) => code);
  expect([served([]), served(['woff']), served(['woff2']), served(null)]).toEqual([['type-not-allowed'], ['type-not-allowed'], [], []]);
  const many = batchOf(Array.from({ length: 41 }, (_, i) => ({ family: `F${i}`, style: 'Regular' })));
  const note = preflight(at('design-tool', { batch: many[0]! }));
  expect(note.map((f) => [f.code, f.severity])).toEqual([['several-uploads', 'note']]);
  expect(note[0]!.message).toMatch(/20 files at once.*41 go there in 3 uploads/);
  expect(found(at('design-tool', { batch: many[1]! }))).toEqual([]);
  expect(found(at('design-tool', { batch: { ...many[0]!, total: 20 } }))).toEqual([]);
  expect(found(at('design-tool', { batch: { ...many[0]!, total: 21 } })).map(([code]) => code)).toEqual(['several-uploads']);
});

test('what a face will have to set is held against its letters and its kind', () => {
  const web = [{ format: 'woff2', bytes: 9 }] as const;
  const alike = [{ faceId: 'f', name: 'Alegreya Regular' }];
  const texts = [
    { label: 'Polish', missing: ['ą', 'ę'] },
    { label: 'Welsh', missing: [] },
  ];
  const look = (changes: Input, kind = 'website') =>
    preflight(at(kind, { files: web, ...changes })).map((f) => `${f.severity} ${f.code} ${f.remedies.map((r) => r.id).join()}`);
  expect(look({ texts, alike })).toEqual(['note letters-missing look-alike']);
  expect(look({ texts, role: 'text' })).toEqual(['ask letters-missing choose-another']);
  expect(look({ role: 'text', forDisplay: true })).toEqual(['ask display-text choose-another']);
  expect(look({ role: 'headings', forDisplay: true })).toEqual([]);
  expect(look({ role: 'text', joined: 'handwriting' })).toEqual(['ask joined-text choose-another']);
  expect(look({ joined: 'Arabic' })).toEqual([]);
  expect(look({ joined: 'Arabic' }, 'store')).toEqual(['note joined-letters ']);
  // A tool that only spaces letters out breaks joins as well.
  expect(look({ joined: 'Arabic', files: [{ format: 'ttf', bytes: 9 }] }, 'design-tool')).toEqual(['note joined-letters ']);
  expect(preflight(at('store', { files: web, joined: 'Arabic' }))[0]!.message).toMatch(/letter-spacing to zero and avoid all capitals/);
  expect(look({ there: there(3) })).toEqual(['note many-families ']);
  expect(look({ there: there(2) })).toEqual([]);
  expect(look({ there: there(3, { family: 'Literata', style: 'Bold' }) })).toEqual([]);
});

test('rules of a place of one’s own: what contradicts itself is told, the rest holds', () => {
  for (const p of PROFILES) expect([p.id, contradictions(rulesOf(p))]).toEqual([p.id, []]);
  const rules = rulesOf(website);
  const wrong = (changes: object): string[] => contradictions({ ...rules, ...changes });
  expect(wrong({ accepts: { ...rules.accepts, formats: [] } })).toEqual([expect.stringMatching(/at least one/)]);
  expect(wrong({ accepts: { ...rules.accepts, prefer: 'ttf' } })).toEqual([expect.stringMatching(/preferred is none/)]);
  expect(wrong({ accepts: { ...rules.accepts, maxBytes: 0 } })).toEqual([expect.stringMatching(/1 KiB/)]);
  expect(wrong({ limits: { perUpload: 0, faces: 1.5, familyName: 256 } })).toHaveLength(3);
  expect(wrong({ twins: 'refused', replacing: 'over' })).toEqual([expect.stringMatching(/after the old one is removed/)]);
  expect(wrong({ roles: [rules.roles[0]!, rules.roles[0]!] })).toEqual([expect.stringMatching(/one id/)]);
  expect(contradictions(null)).toHaveLength(1);
  const own = profileFrom({ like: 'print-shop', name: 'Mugs', accepts: { maxBytes: 2048 } }) as Profile;
  expect([own.name, own.accepts.maxBytes, own.accepts.formats, own.use]).toEqual(['Mugs', 2048, ['ttf', 'otf'], 'customers-words']);
  expect(profileFrom({ like: 'nowhere' })).toEqual([expect.stringMatching(/“like” is none/)]);
  expect(profileFrom({ like: 'store', color: 'blue' })).toEqual([expect.stringMatching(/“color” is no rule/)]);
  expect(profileFrom({ like: 'store', accepts: { prefer: 'otf' } })).toEqual([expect.stringMatching(/preferred/)]);
});
