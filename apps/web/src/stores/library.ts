import { defineStore } from 'pinia';
import type { FaceLine as PlainLine, Family as PlainFamily, LanguageName, Place, ProofText } from '@orderly-glyph/schema';
import { computed, ref, shallowRef } from 'vue';
import { call, routes, sentence } from '../api';

/** A face with its covered code points as runs [first, last, ...], shared by all faces that cover the same. */
export type FaceLine = Omit<PlainLine, 'runs'> & { runs: readonly number[] };
export type Family = Omit<PlainFamily, 'faces'> & { faces: FaceLine[] };

function parseRuns(text: string): number[] {
  return text === '' ? [] : text.split(/[-,]/).map((n) => parseInt(n, 36));
}

/** Families, ready texts and places of the workspace, loaded once and again after every change. */
export const useLibrary = defineStore('library', () => {
  // Thousands of families need no deep watching; the list is replaced as a whole.
  const families = shallowRef<Family[]>([]);
  const proofTexts = ref<ProofText[]>([]);
  const places = ref<Place[]>([]);
  const languages = ref<LanguageName[]>([]);
  const scriptNames = computed(() => new Map(languages.value.map((l) => [l.script, l.scriptName])));
  const languageNames = computed(() => new Map(languages.value.map((l) => [l.tag, l.name])));
  /** Languages of the ready texts: those the workspace sells in. */
  const ownLanguages = computed(() => [...new Set(proofTexts.value.map((t) => t.language).filter(Boolean))]);
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
      const [f, t, p, l] = await Promise.all([
        call(routes.listFamilies),
        call(routes.getProofTexts),
        call(routes.listPlaces),
        languages.value.length > 0 ? languages.value : call(routes.listLanguages),
      ]);
      languages.value = l;
      const runs = f.runSets.map(parseRuns);
      families.value = f.families.map((family) => ({
        ...family,
        faces: family.faces.map((face) => ({ ...face, runs: runs[face.runs]! })),
      }));
      proofTexts.value = t;
      places.value = p;
      state.value = 'ready';
    } catch (error) {
      problem.value = sentence(error);
      state.value = 'failed';
    }
  }
  function forget(): void {
    families.value = [];
    proofTexts.value = [];
    places.value = [];
    state.value = 'new';
  }
  return { languages, scriptNames, languageNames, ownLanguages, families, proofTexts, places, faces, state, problem, load, forget };
});
