import { useSessionStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed } from 'vue';
import { useLibrary, type Family } from './library';

const KEY = 'orderly-glyph-tray';

/** What an earlier window or another program left there may be anything. */
function idsIn(text: string): string[] {
  try {
    const value: unknown = JSON.parse(text);
    return Array.isArray(value) ? value.filter((v): v is string => typeof v === 'string') : [];
  } catch {
    return [];
  }
}

/** The faces a person has picked up; they stay from chapter to chapter and over a reload. */
export const useTray = defineStore('tray', () => {
  const ids = useSessionStorage<string[]>(KEY, [], { serializer: { read: idsIn, write: JSON.stringify } });
  const library = useLibrary();
  const faces = computed(() => ids.value.flatMap((id) => library.faces.get(id) ?? []));

  const has = (id: string): boolean => ids.value.includes(id);
  function toggle(id: string): void {
    ids.value = has(id) ? ids.value.filter((other) => other !== id) : [...ids.value, id];
  }
  const families = computed(() => [...new Map(faces.value.map(({ family }) => [family.id, family])).values()]);
  const hasFamily = (id: string): boolean => families.value.some((f) => f.id === id);
  /** Picks a family up by one of its faces, or puts all of its faces down. */
  function toggleFamily(family: Family, faceId: string = family.leadFaceId): void {
    const own = new Set(family.faces.map((f) => f.id));
    ids.value = hasFamily(family.id) ? ids.value.filter((id) => !own.has(id)) : [...ids.value, faceId];
  }
  function pickUp(more: readonly Family[]): void {
    ids.value = [...ids.value, ...more.filter((f) => !hasFamily(f.id)).map((f) => f.leadFaceId)];
  }
  function clear(): void {
    ids.value = [];
  }
  return { ids, faces, families, has, hasFamily, toggle, toggleFamily, pickUp, clear };
});
