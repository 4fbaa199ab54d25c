import { defineStore } from 'pinia';
import type { FaceLine, Family, Place, ProofText } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { call, routes, sentence } from '../api';

/** Families, ready texts and places of the workspace, loaded once and again after every change. */
export const useLibrary = defineStore('library', () => {
  const families = ref<Family[]>([]);
  const proofTexts = ref<ProofText[]>([]);
  const places = ref<Place[]>([]);
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
      const [f, t, p] = await Promise.all([call(routes.listFamilies), call(routes.getProofTexts), call(routes.listPlaces)]);
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
  return { families, proofTexts, places, faces, state, problem, load, forget };
});
