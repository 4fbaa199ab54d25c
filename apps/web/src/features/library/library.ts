import { defineStore } from 'pinia';
import {
  KEEP_RULE,
  writesOf,
  type Writes,
  type ChangeDone,
  type ChangedFamilies,
  type FaceLine as PlainLine,
  type Family as PlainFamily,
  type LanguageName,
  type LibraryAct,
  type Place,
  type ReadyText,
  type Shelf,
} from '@orderly-glyph/schema';
import { computed, ref, shallowRef } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import { useVoice } from '../../platform/voice';

/** A face with what it can set, shared by all faces that set the same. */
export type FaceLine = Omit<PlainLine, 'runs'> & { writes: Writes };
export type Family = Omit<PlainFamily, 'faces'> & { faces: FaceLine[]; formats: string[] };

function parseRuns(text: string): Writes {
  const [runs = '', loose = ''] = text.split('|');
  return writesOf(runs === '' ? [] : runs.split(/[-,]/).map((n) => parseInt(n, 36)), loose.split(' ').filter(Boolean));
}

/** Families, ready texts and places of the workspace, loaded once; a change brings along the families it touched. */
export const useLibrary = defineStore('library', () => {
  // Thousands of families need no deep watching; the list is replaced as a whole.
  const families = shallowRef<Family[]>([]);
  const readyTexts = ref<ReadyText[]>([]);
  const places = ref<Place[]>([]);
  const languages = ref<LanguageName[]>([]);
  const scriptNames = computed(() => new Map(languages.value.map((l) => [l.script, l.scriptName])));
  const languageNames = computed(() => new Map(languages.value.map((l) => [l.tag, l.name])));
  /** Languages of the ready texts: those the workspace sells in. */
  const ownLanguages = computed(() => [...new Set(readyTexts.value.map((t) => t.language).filter(Boolean))]);
  const shelf = ref<Shelf>({
    collections: [],
    searches: [],
    labels: [],
    palette: [],
    rule: KEEP_RULE,
    archived: 0,
    stale: 0,
    refreshJobId: null,
  });
  const state = ref<'new' | 'loading' | 'ready' | 'failed'>('new');
  const problem = ref('');
  const faces = computed(() => {
    const map = new Map<string, { face: FaceLine; family: Family }>();
    for (const family of families.value) for (const face of family.faces) map.set(face.id, { face, family });
    return map;
  });

  async function load(): Promise<void> {
    if (state.value !== 'ready') state.value = 'loading';
    try {
      const [f, t, p, l, s] = await Promise.all([
        call(routes.listFamilies),
        call(routes.getReadyTexts),
        call(routes.listPlaces),
        languages.value.length > 0 ? languages.value : call(routes.listLanguages),
        call(routes.getShelf),
      ]);
      shelf.value = s;
      languages.value = l;
      families.value = opened(f);
      readyTexts.value = t;
      places.value = p;
      state.value = 'ready';
    } catch (error) {
      problem.value = sentence(error);
      state.value = 'failed';
    }
  }
  /** Families as they are worked with here. */
  function opened({ runSets, families: list }: { runSets: string[]; families: PlainFamily[] }): Family[] {
    const runs = runSets.map(parseRuns);
    return list.map((family) => ({
      ...family,
      formats: [...new Set(family.faces.flatMap((face) => face.formats))],
      faces: family.faces.map(({ runs: set, ...face }) => ({ ...face, writes: runs[set]! })),
    }));
  }
  const collator = new Intl.Collator('en', { numeric: true });
  /** Takes over the families that a change touched; the rest of the list stays as it is. */
  function takeOver(changed: ChangedFamilies): void {
    const fresh = opened(changed);
    const replaced = new Set([...changed.gone, ...fresh.map((f) => f.id)]);
    if (replaced.size > 0)
      families.value = [...families.value.filter((f) => !replaced.has(f.id)), ...fresh].sort((a, b) => collator.compare(a.name, b.name));
  }
  async function loadPlaces(): Promise<void> {
    places.value = await call(routes.listPlaces);
  }
  const voice = useVoice();
  /** Does something to the library's order, says how it went and offers to take it back. Null when it was refused. */
  async function act(body: LibraryAct): Promise<ChangeDone | null> {
    try {
      const done = await call(routes.changeLibrary, { body });
      takeOver(done.changed);
      shelf.value = await call(routes.getShelf);
      const { changeId } = done;
      voice.say([`${done.summary}.`, ...done.left].join(' '), 'told', changeId ? { label: 'Undo', run: () => void undo(changeId) } : null);
      return done;
    } catch (error) {
      voice.say(sentence(error), 'fault');
      return null;
    }
  }
  async function undo(changeId: string): Promise<void> {
    try {
      const done = await call(routes.undoChange, { params: { changeId } });
      takeOver(done.changed);
      shelf.value = await call(routes.getShelf);
      voice.say([`${done.summary}.`, ...done.left].join(' '));
    } catch (error) {
      voice.say(sentence(error), 'fault');
    }
  }
  function forget(): void {
    families.value = [];
    readyTexts.value = [];
    places.value = [];
    state.value = 'new';
  }
  return {
    shelf,
    act,
    undo,
    languages,
    scriptNames,
    languageNames,
    ownLanguages,
    families,
    readyTexts,
    places,
    faces,
    state,
    problem,
    load,
    loadPlaces,
    takeOver,
    forget,
  };
});
