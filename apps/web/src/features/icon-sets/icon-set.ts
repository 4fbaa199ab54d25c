import { routes, type Drawing, type IconAct, type IconFacts, type IconSet, type TakenFile } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { addressOf, ApiProblem, call, callUpload, sentence } from '../../platform/api';
import type { Chosen } from '../../platform/files';
import { useVoice } from '../../platform/voice';
import { count } from '../../platform/words';

/** Characters of drawings that go in one request; the server takes 2 MB. */
const MOST_TEXT = 1_200_000;
const MOST_FILES = 300;

/** A set that is being worked on: what it holds, what is chosen of it, and what is done to it. */
export function useIconSet(setId: () => string) {
  const voice = useVoice();
  const set = ref<IconSet | null>(null);
  const state = ref<'loading' | 'ready' | 'failed'>('loading');
  const problem = ref('');
  const chosen = ref<string[]>([]);
  /** What became of files that came in last. */
  const taken = ref<TakenFile[]>([]);
  const busy = ref('');

  async function load(): Promise<void> {
    try {
      set.value = await call(routes.getIconSet, { params: { setId: setId() } });
      state.value = 'ready';
    } catch (error) {
      problem.value = sentence(error);
      state.value = 'failed';
    }
  }
  watch(setId, () => void load(), { immediate: true });
  const drawings = computed(() => set.value?.drawings ?? []);
  const selection = computed(() => drawings.value.filter((d) => chosen.value.includes(d.id)));

  async function carryOut<T>(work: () => Promise<T>, waits = ''): Promise<T | null> {
    problem.value = '';
    busy.value = waits;
    try {
      return await work();
    } catch (error) {
      problem.value = sentence(error);
      voice.say(problem.value, 'fault');
      if (error instanceof ApiProblem && (error.code === 'stale' || error.status === 404)) await load();
      return null;
    } finally {
      busy.value = '';
    }
  }
  /** Does something to drawings, and says so with a way back where there is one. */
  async function act(what: IconAct, told = '', back: IconAct | null = null): Promise<boolean> {
    const next = await carryOut(() => call(routes.changeDrawings, { params: { setId: setId() }, body: what }));
    if (!next) return false;
    set.value = next;
    chosen.value = chosen.value.filter((id) => next.drawings.some((d) => d.id === id));
    if (told) voice.say(told, 'told', back ? { label: 'Undo', run: () => void act(back) } : null);
    return true;
  }
  function takeOver(next: IconSet): void {
    set.value = next;
  }
  const remove = (rows: readonly Drawing[]): Promise<boolean> => {
    const ids = rows.map((d) => d.id);
    const told = `${rows.length === 1 ? `“${rows[0]!.name}” is` : `${count(rows.length, 'drawing')} are`} out of the set${rows.some((d) => d.locked) ? '; released code points stay reserved' : ''}.`;
    return act({ act: 'remove', ids }, told, { act: 'restore', ids });
  };
  async function change(facts: IconFacts): Promise<boolean> {
    const next = await carryOut(() =>
      call(routes.changeIconSet, { params: { setId: setId() }, body: { facts, version: set.value!.version } }),
    );
    if (next) set.value = next;
    return next !== null;
  }

  /** Takes drawings in: SVG files many at a time, a ZIP by itself. */
  async function bringIn(files: readonly Chosen[], by: 'itself' | 'groups' = 'itself'): Promise<void> {
    taken.value = [];
    const texts: { path: string; text: string }[] = [];
    const send = async (): Promise<void> => {
      if (texts.length === 0) return;
      const answer = await call(routes.addDrawings, { params: { setId: setId() }, body: { files: texts.splice(0), by } });
      set.value = answer.set;
      taken.value.push(...answer.taken);
    };
    await carryOut(async () => {
      let length = 0;
      for (const { file, path } of files) {
        if (/\.zip$/i.test(path)) {
          const answer = await callUpload(routes.sendDrawings, { params: { setId: setId() } }, file);
          set.value = answer.set;
          taken.value.push(...answer.taken);
          continue;
        }
        if (file.size > MOST_TEXT) {
          taken.value.push({
            path,
            added: [],
            replaced: [],
            notes: [],
            refused: 'It is larger than any drawing of an icon; put it into a ZIP if it really is one.',
          });
          continue;
        }
        const text = await file.text();
        if (length + text.length > MOST_TEXT || texts.length >= MOST_FILES) {
          await send();
          length = 0;
        }
        length += text.length;
        texts.push({ path, text });
      }
      await send();
      const added = taken.value.flatMap((t) => t.added);
      const replaced = taken.value.flatMap((t) => t.replaced);
      const refused = taken.value.filter((t) => t.refused !== null).length;
      voice.say(
        [
          added.length > 0 ? `${count(added.length, 'drawing')} came in` : '',
          replaced.length > 0 ? `${count(replaced.length, 'drawing')} drawn anew` : '',
          refused > 0 ? `${count(refused, 'file')} could not be taken` : '',
        ]
          .filter(Boolean)
          .join(', ') + '.',
        added.length + replaced.length === 0 ? 'fault' : 'told',
      );
      if (added.length > 0) chosen.value = added.slice(0, 1);
    }, 'Reading the drawings …');
  }
  const kitAddress = (number: number, layout: 'flat' | 'siblings' | 'nested'): string =>
    addressOf(routes.iconKit, { params: { setId: setId(), number }, query: { layout } });
  return {
    set,
    state,
    problem,
    drawings,
    chosen,
    selection,
    taken,
    busy,
    load,
    act,
    takeOver,
    remove,
    change,
    bringIn,
    carryOut,
    kitAddress,
  };
}
export type SetAtHand = ReturnType<typeof useIconSet>;

/** How a drawing is painted where it is shown: in the color around it, or in its own colors. */
export const paintsOf = (d: Pick<Drawing, 'path' | 'layers'>): { path: string; color: string; alpha: number }[] =>
  d.layers.length > 0 ? d.layers : [{ path: d.path, color: 'currentColor', alpha: 1 }];

/** "U+E001". */
export const uPlus = (c: number): string => `U+${c.toString(16).toUpperCase().padStart(4, '0')}`;

/** A code point as somebody typed it: U+E001, e001, or the character itself; null when it is none. */
export function codePointOf(text: string): number | null {
  const plain = text.trim();
  const hex = /^(?:U\+|\\|&#x)?([0-9a-f]{4,6});?$/i.exec(plain)?.[1];
  if (hex) return parseInt(hex, 16) <= 0x10ffff ? parseInt(hex, 16) : null;
  return [...plain].length === 1 ? plain.codePointAt(0)! : null;
}

/** What is to be said most urgently of a drawing; null when nothing is. */
export const gravest = (d: Drawing): 'lost' | 'look' | null =>
  d.findings.some((f) => f.severity === 'lost') ? 'lost' : d.findings.some((f) => f.severity === 'look') ? 'look' : null;
