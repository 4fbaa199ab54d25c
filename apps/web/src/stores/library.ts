import { defineStore } from 'pinia';
import type { FaceLine, Family, LanguageName, Place, ProofText } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { call, routes, sentence } from '../api';

/** Families, ready texts and places of the workspace, loaded once and again after every change. */
export const useLibrary = defineStore('library', () => {
  const families = ref<Family[]>([]);
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
      families.value = f;
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
