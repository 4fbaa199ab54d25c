import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { useLibrary } from './library';

const KEY = 'orderly-glyph-tray';

function kept(): string[] {
  try {
    const value: unknown = JSON.parse(sessionStorage.getItem(KEY) ?? '[]');
    return Array.isArray(value) ? value.filter((v): v is string => typeof v === 'string') : [];
  } catch {
    return [];
  }
}

/** The faces a person has picked up; they stay from chapter to chapter and over a reload. */
export const useTray = defineStore('tray', () => {
  const ids = ref<string[]>(kept());
  const library = useLibrary();
  const faces = computed(() => ids.value.flatMap((id) => library.faces.get(id) ?? []));
  watch(ids, (next) => sessionStorage.setItem(KEY, JSON.stringify(next)), { deep: true });

  const has = (id: string): boolean => ids.value.includes(id);
  function toggle(id: string): void {
    ids.value = has(id) ? ids.value.filter((other) => other !== id) : [...ids.value, id];
  }
  function clear(): void {
    ids.value = [];
  }
  return { ids, faces, has, toggle, clear };
});
