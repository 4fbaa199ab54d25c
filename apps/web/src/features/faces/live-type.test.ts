import { jest } from '@jest/globals';
import { effectScope, nextTick, ref } from 'vue';
import type { FaceLine } from '../library/library';

// A browser's font loading, stood in for: what was added, and which bytes a face came from.
const added = new Set<FakeFace>();
class FakeFace {
  constructor(
    readonly family: string,
    readonly bytes: Uint8Array,
  ) {}
  load(): Promise<this> {
    return this.bytes.length === 0 ? Promise.reject(new DOMException('refused')) : Promise.resolve(this);
  }
}
Object.assign(globalThis, {
  FontFace: FakeFace,
  document: { fonts: { add: (f: FakeFace) => added.add(f), delete: (f: FakeFace) => added.delete(f) } },
  requestAnimationFrame: (act: () => void) => setTimeout(act, 1),
  addEventListener: () => undefined,
});

let answer: () => Promise<Uint8Array> = () => Promise.resolve(Uint8Array.of(1));
const callBytes = jest.fn((_route: unknown, _input: { query?: { text: string } }) => answer());
jest.unstable_mockModule('../../platform/api', () => ({
  callBytes,
  routes: { getFaceLine: 'line', downloadFace: 'whole' },
  sentence: (error: Error) => `It failed: ${error.message}`,
}));
const { codePointName, liveFamily, splitByCoverage, useLiveFace, wholeFamily } = await import('./live-type');

let next = 0;
const face = (changes: Partial<FaceLine> = {}): FaceLine =>
  ({ id: `f${next++}`, revision: 'r1', blocked: null, ...changes }) as unknown as FaceLine;
const asked = (): string[] => callBytes.mock.calls.map(([, input]) => input.query?.text ?? 'whole');
const settled = () => new Promise((r) => setTimeout(r, 30));
beforeEach(() => {
  callBytes.mockClear();
  added.clear();
  answer = () => Promise.resolve(Uint8Array.of(1));
});

test('a face is fetched once for a text, with the letters that typing needs, and again only for others', async () => {
  const one = face();
  const [a, b] = await Promise.all([liveFamily(one, 'Garden'), liveFamily(one, 'Garden')]);
  expect([a === b, callBytes.mock.calls.length, added.size]).toEqual([true, 1, 1]);
  for (const c of 'zA0~') expect(asked()[0]).toContain(c);
  expect(await liveFamily(one, 'garden 12!')).toBe(a);
  expect(callBytes).toHaveBeenCalledTimes(1);
  // A letter beyond them: composed and apart, with all that was there before.
  const c = await liveFamily(one, 'łąka');
  expect(c).not.toBe(a);
  for (const piece of ['ł', 'ą', '\u0328', 'G', 'z']) expect(asked()[1]).toContain(piece);
  expect(await liveFamily(one, 'Garden łą')).toBe(c);
  // Another revision of the face is another file.
  await liveFamily({ ...one, revision: 'r2' }, 'Garden');
  expect(callBytes).toHaveBeenCalledTimes(3);
});

test('what failed is tried again when it is asked for again', async () => {
  const one = face();
  answer = () => Promise.reject(new Error('away'));
  await expect(liveFamily(one, 'a')).rejects.toThrow('away');
  await expect(wholeFamily(one, 'glyf')).rejects.toThrow('away');
  answer = () => Promise.resolve(Uint8Array.of(1));
  expect(await liveFamily(one, 'a')).toMatch(/^live-/);
  const whole = await wholeFamily(one, 'glyf');
  expect([whole, await wholeFamily(one, 'glyf')]).toEqual([expect.stringMatching(/^whole-/), whole]);
  expect(callBytes).toHaveBeenCalledTimes(4);
});

test('a line follows its face and its text, and an answer that comes late does not count', async () => {
  const scope = effectScope();
  const [first, second] = [face(), face()];
  const shown = ref<FaceLine | null>(null);
  const live = scope.run(() => useLiveFace(shown, ref('abc')))!;
  expect([live.state.value, callBytes.mock.calls.length]).toEqual(['loading', 0]);
  let release = (): void => undefined;
  answer = () => new Promise((r) => (release = () => r(Uint8Array.of(1))));
  shown.value = first;
  await settled();
  answer = () => Promise.resolve(Uint8Array.of(1));
  shown.value = second;
  await settled();
  const family = live.family.value;
  expect([live.state.value, family]).toEqual(['ready', expect.stringMatching(/^live-/)]);
  release();
  await settled();
  expect(live.family.value).toBe(family);

  shown.value = face({ blocked: 'Its outlines cannot be read.' });
  await nextTick();
  expect([live.state.value, live.problem.value]).toEqual(['failed', 'Its outlines cannot be read.']);
  answer = () => Promise.reject(new Error('away'));
  shown.value = face();
  await settled();
  expect([live.state.value, live.problem.value]).toEqual(['failed', 'It failed: away']);
  answer = () => Promise.resolve(new Uint8Array(0));
  shown.value = face();
  await settled();
  expect([live.state.value, live.problem.value]).toEqual(['failed', 'This browser refuses the face.']);
  scope.stop();
});

test('a text is cut into what a face writes and each that it does not', () => {
  const writes = { has: (c: number) => c < 0x100, sets: () => false };
  expect(splitByCoverage('Łąka abc ж', writes)).toEqual([
    { text: 'Ł', missing: true },
    { text: 'ą', missing: true },
    { text: 'ka abc ', missing: false },
    { text: 'ж', missing: true },
  ]);
  expect([codePointName('ж'), codePointName('😀')]).toEqual(['U+0436', 'U+1F600']);
});
