import { useSessionStorage } from '@vueuse/core';
import { defineStore } from 'pinia';

const KEY = 'orderly-glyph-words';

/** The words somebody is looking at faces in; they go along from page to page of this window. */
export const useProofLine = defineStore('proof-line', () => {
  const text = useSessionStorage(KEY, '');
  return { text };
});
