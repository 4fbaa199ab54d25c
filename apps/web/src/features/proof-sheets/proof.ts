import { defineStore } from 'pinia';
import { ref, watch } from 'vue';

const KEY = 'orderly-glyph-words';

/** The words somebody is looking at faces in; they go along from page to page of this window. */
export const useProof = defineStore('proof', () => {
  const text = ref(sessionStorage.getItem(KEY) ?? '');
  watch(text, (words) => sessionStorage.setItem(KEY, words));
  return { text };
});
