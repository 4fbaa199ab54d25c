import { faceOf } from '../../test/face.js';
import { readFont } from '../../test/fonts.js';
import { python } from '../../test/python.js';
import { CharStringPen, ContourPen, drawContour, ReversePen, shareSubroutines } from './index.js';

const total = (parts: readonly Uint8Array[]): number => parts.reduce((n, p) => n + p.length, 0);
const hex = (parts: readonly Uint8Array[]): string[] => parts.map((p) => Buffer.from(p).toString('hex'));
/** Programs as fontTools reads them: every call followed, and how deep calls go. */
const expanded = (shared: ReturnType<typeof shareSubroutines>): { programs: string[]; deepest: number } =>
  python(
    `
from fontTools.misc.psCharStrings import T2CharString, calcSubrBias
charStrings, localSubrs, globalSubrs = given
class Private: Subrs = []
lists = {'callsubr': Private.Subrs, 'callgsubr': []}
read = lambda h: T2CharString(bytecode=bytes.fromhex(h), private=Private, globalSubrs=lists['callgsubr'])
Private.Subrs += [read(h) for h in localSubrs]
lists['callgsubr'] += [read(h) for h in globalSubrs]
deepest = 0
def flat(s, depth):
    global deepest
    deepest = max(deepest, depth)
    s.decompile(); out = []
    for token in s.program:
        if token in lists:
            subrs = lists[token]
            out += flat(subrs[out.pop() + calcSubrBias(subrs)], depth + 1)
        elif token != 'return':
            out.append(token)
    return out
print(json.dumps({'programs': [' '.join(map(str, flat(read(h), 0))) for h in charStrings], 'deepest': deepest}))
`,
    [hex(shared.charStrings), hex(shared.localSubrs), hex(shared.globalSubrs)],
  );

test('programs share what they have in common, and say the same with their calls followed', () => {
  const face = faceOf(readFont('notoSans'));
  const programs = Array.from({ length: Math.min(face.glyphCount, 900) }, (_, glyph) => {
    const contours = new ContourPen();
    face.draw(glyph, new ReversePen(contours));
    contours.closePath();
    const pen = new CharStringPen(null);
    for (const c of contours.contours) drawContour(c, pen);
    return pen.charString();
  });
  const shared = shareSubroutines(programs);
  const [ours, plain] = [expanded(shared), expanded({ charStrings: programs, localSubrs: [], globalSubrs: [] })];
  expect(ours.programs).toEqual(plain.programs);
  // Calls go at most ten deep, and both indexes are used. Source: Adobe Technical Note 5177, appendix B.
  expect(ours.deepest).toBeGreaterThan(1);
  expect(ours.deepest).toBeLessThanOrEqual(10);
  expect(Math.abs(shared.localSubrs.length - shared.globalSubrs.length)).toBeLessThanOrEqual(1);
  const size = total(shared.charStrings) + total(shared.localSubrs) + total(shared.globalSubrs);
  // A third at least goes, as the compiler of the makers of the format does it over the same programs (tx +S; see bench/README.md).
  expect(size).toBeLessThan(0.66 * total(programs));
});

test('the same program again and again is written once, and ends inside the subroutine', () => {
  const pen = new CharStringPen(null);
  pen.moveTo(10, 20);
  for (let i = 1; i < 30; i++) pen.lineTo(37 * i, (i * i * 13) % 700);
  const one = pen.charString();
  const shared = shareSubroutines(Array.from({ length: 50 }, () => one));
  // 0x20 is the number -107, the first of a short index; 10 is callsubr. Source: Technical Note 5177, tables 1 and appendix A.
  expect(new Set(hex(shared.charStrings))).toEqual(new Set(['200a']));
  expect(hex(shared.localSubrs)).toEqual(hex([one]));
});

test('programs without anything in common stay as they are, and none at all is no trouble', () => {
  const programs = [Uint8Array.of(0x8b, 22, 14), Uint8Array.of(0x8c, 4, 14), Uint8Array.of(14)];
  expect(shareSubroutines(programs)).toEqual({ charStrings: programs, localSubrs: [], globalSubrs: [] });
  expect(shareSubroutines([]).charStrings).toEqual([]);
});

test('one program that repeats itself for very long comes out the same, and short', () => {
  const pen = new CharStringPen(null);
  pen.moveTo(0, 0);
  for (let i = 0; i < 20_000; i++) pen.lineTo(i % 2 ? 10 : 20, i % 3 ? 5 : 7);
  const one = pen.charString();
  const shared = shareSubroutines([one]);
  expect(expanded(shared).programs).toEqual(expanded({ charStrings: [one], localSubrs: [], globalSubrs: [] }).programs);
  expect(total(shared.charStrings) + total(shared.localSubrs)).toBeLessThan(one.length / 10);
});
