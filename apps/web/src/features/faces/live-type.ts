import { piecesOf, type Face, type Writes } from '@orderly-glyph/schema';
import type { FaceLine } from '../library/library';
import { onScopeDispose, ref, watch, type Ref } from 'vue';
import { callBytes, routes, sentence } from '../../platform/api';

/** Characters fetched with every face, so that plain typing needs no further request. */
const BASIC = Array.from({ length: 95 }, (_, i) => String.fromCharCode(32 + i)).join('');

interface Loaded {
  name: string;
  characters: Set<string>;
  face: FontFace;
}

const loaded = new Map<string, Loaded>();
const pending = new Map<string, { characters: Set<string>; promise: Promise<Loaded> }>();
let counter = 0;

/** The same ascent and descent for every face, so that lines of different faces share one baseline. */
const COMMON_METRICS = { ascentOverride: '95%', descentOverride: '35%', lineGapOverride: '0%' };

/** All characters a text may need, composed and decomposed, since shaping may take it apart. */
function charactersOf(text: string): Set<string> {
  return new Set([...text.normalize('NFC'), ...text.normalize('NFD')].filter((c) => c >= ' '));
}

const holds = (have: Set<string>, want: Set<string>): boolean => [...want].every((c) => have.has(c));

let arriving: FontFace[] = [];
let arrival: Promise<void> | null = null;
/** Every face added makes the browser lay the page out anew, so those that come within a frame are added together. */
function addFont(font: FontFace): Promise<void> {
  arriving.push(font);
  arrival ??= new Promise((resolve) =>
    requestAnimationFrame(() => {
      for (const f of arriving) document.fonts.add(f);
      arriving = [];
      arrival = null;
      resolve();
    }),
  );
  return arrival;
}

async function fetchFace(key: string, face: FaceLine, characters: Set<string>): Promise<Loaded> {
  const bytes = await callBytes(routes.getFaceLine, {
    params: { faceId: face.id },
    query: { text: [...characters].join('').slice(0, 2000), rev: face.revision },
  });
  const name = `live-${++counter}`;
  const font = new FontFace(name, bytes, { weight: '1 1000', ...COMMON_METRICS });
  await font.load();
  await addFont(font);
  const old = loaded.get(key);
  const entry = { name, characters, face: font };
  loaded.set(key, entry);
  // The former piece may still be on screen until every line has switched over.
  if (old) setTimeout(() => document.fonts.delete(old.face), 1000);
  return entry;
}

/** The CSS family under which a face can set a text; fetches what is missing of it. */
export async function liveFamily(face: FaceLine, text: string): Promise<string> {
  const key = `${face.id}/${face.revision}`;
  const want = charactersOf(text);
  const have = loaded.get(key);
  if (have && holds(have.characters, want)) return have.name;
  const waiting = pending.get(key);
  if (waiting && holds(waiting.characters, want)) return (await waiting.promise).name;
  const characters = new Set([...(have?.characters ?? []), ...(waiting?.characters ?? []), ...BASIC, ...want]);
  const promise = fetchFace(key, face, characters);
  pending.set(key, { characters, promise });
  try {
    return (await promise).name;
  } finally {
    if (pending.get(key)?.promise === promise) pending.delete(key);
  }
}

const whole = new Map<string, Promise<string>>();

/** The CSS family of a face in its entirety, for tables of all its characters. */
export const wholeFamily = (face: FaceLine, outlines: 'glyf' | 'CFF' | 'CFF2' | 'none'): Promise<string> =>
  wholeUnder(`${face.id}/${face.revision}`, face.id, outlines);

/** The same for a face that stands behind another and has no line. */
export const loadWhole = (face: Face): Promise<string> =>
  wholeUnder(`${face.id}/${face.files[0]?.sha256.slice(0, 16) ?? ''}`, face.id, face.outlines);

function wholeUnder(key: string, faceId: string, outlines: 'glyf' | 'CFF' | 'CFF2' | 'none'): Promise<string> {
  let loading = whole.get(key);
  if (!loading) {
    loading = callBytes(routes.downloadFace, { params: { faceId, format: outlines === 'glyf' ? 'ttf' : 'otf' } }).then(async (bytes) => {
      const name = `whole-${++counter}`;
      const font = new FontFace(name, bytes, { weight: '1 1000', ...COMMON_METRICS });
      await font.load();
      document.fonts.add(font);
      return name;
    });
    whole.set(key, loading);
    loading.catch(() => whole.delete(key));
  }
  return loading;
}

let scrolledAt = -Infinity;
addEventListener('scroll', () => (scrolledAt = performance.now()), { capture: true, passive: true });

/** Waits while a list is being scrolled fast: lines that only fly past need no face, and cutting one costs the server. */
async function calm(): Promise<void> {
  const began = performance.now();
  while (performance.now() - scrolledAt < 100 && performance.now() - began < 400) await new Promise((r) => setTimeout(r, 40));
}

/** Follows a face, once there is one, and a text, and holds the family to set it in and whether that worked. */
export function useLiveFace(
  face: Ref<FaceLine | null>,
  text: Ref<string>,
): { family: Ref<string>; state: Ref<'loading' | 'ready' | 'failed'>; problem: Ref<string> } {
  const family = ref('');
  const state = ref<'loading' | 'ready' | 'failed'>('loading');
  const problem = ref('');
  let latest = 0;
  let gone = false;
  const update = async (): Promise<void> => {
    const turn = ++latest;
    if (!face.value) return;
    if (face.value.blocked) {
      state.value = 'failed';
      problem.value = face.value.blocked;
      return;
    }
    try {
      if (!loaded.has(`${face.value.id}/${face.value.revision}`)) await calm();
      if (turn !== latest || gone) return;
      const name = await liveFamily(face.value, text.value);
      if (turn !== latest || gone) return;
      family.value = name;
      state.value = 'ready';
    } catch (error) {
      if (turn !== latest || gone) return;
      state.value = 'failed';
      problem.value = error instanceof DOMException ? 'This browser refuses the face.' : sentence(error);
    }
  };
  watch([() => face.value?.id, () => face.value?.revision, text], () => void update(), { immediate: true });
  onScopeDispose(() => (gone = true));
  return { family, state, problem };
}

/** A text cut into what a face can write and single characters, or letters with their marks, that it cannot. */
export function splitByCoverage(text: string, writes: Writes): { text: string; missing: boolean }[] {
  const out: { text: string; missing: boolean }[] = [];
  for (const piece of piecesOf(text, writes)) {
    const missing = piece.missing.length > 0;
    const last = out[out.length - 1];
    if (last && !missing && !last.missing) last.text += piece.text;
    else out.push({ text: piece.text, missing });
  }
  return out;
}

export const codePointName = (character: string): string => `U+${character.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`;

/** Letters of a text that a face must lack before its drawings are shown instead. */
const MOSTLY = 0.6;
/** Drawings of a face that writes no text, as icon fonts: the first that stand on private-use characters; null where it writes. */
export function drawingsInstead(text: string, writes: Writes): string | null {
  const letters = [...text].filter((c) => c.trim() !== '');
  const lacking = letters.filter((c) => !writes.has(c.codePointAt(0)!)).length;
  if (letters.length === 0 || lacking < MOSTLY * letters.length) return null;
  const found: string[] = [];
  for (let c = 0xe000; c <= 0xf8ff && found.length < 12; c++) if (writes.has(c)) found.push(String.fromCodePoint(c));
  return found.length > 0 ? found.join(' ') : null;
}
