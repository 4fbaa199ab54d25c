<script setup lang="ts">
import type { Place, PreflightFace } from '@orderly-glyph/schema';
import { computed } from 'vue';

/** Faces down, places across, and in each field how the face stands there; a field opens the findings. */
const props = defineProps<{ cells: readonly PreflightFace[]; places: readonly Place[]; at: { faceId: string; placeId: string } | null }>();
const emit = defineEmits<{ look: [faceId: string, placeId: string] }>();
const rows = computed(() => {
  const out = new Map<string, { faceId: string; face: string; cells: Map<string, PreflightFace> }>();
  for (const c of props.cells) {
    const row = out.get(c.faceId) ?? { faceId: c.faceId, face: c.face, cells: new Map<string, PreflightFace>() };
    row.cells.set(c.placeId, c);
    out.set(c.faceId, row);
  }
  return [...out.values()];
});
/** The word for a field: what a person has to know first. */
function wordOf(c: PreflightFace): { word: string; sign: string; tone: string } {
  if (c.clear && c.findings.some((f) => f.severity === 'ask')) return { word: 'Ask first', sign: '?', tone: 'text-ask' };
  if (c.clear) return { word: c.chosen.length > 0 ? 'Goes, mended' : 'Goes', sign: '✓', tone: 'text-yes' };
  if (c.fit === 'fits-after-remedy') return { word: 'Can be mended', sign: '↻', tone: 'text-ask' };
  return { word: c.overridable ? 'No right' : 'Does not go', sign: '✕', tone: 'text-no' };
}
const isAt = (c: PreflightFace): boolean => props.at?.faceId === c.faceId && props.at.placeId === c.placeId;
</script>

<template>
  <div class="relative overflow-x-auto">
    <table class="w-full border-collapse text-left">
      <thead>
        <tr class="border-b-2 border-ink">
          <th scope="col" class="py-1 pr-4 font-semibold">Face</th>
          <th v-for="p in places" :key="p.id" scope="col" class="px-2 py-1 font-semibold">
            {{ p.name }}<span class="note block font-normal">{{ p.profile }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.faceId" class="border-b border-rule">
          <th scope="row" class="max-w-64 truncate py-1 pr-4 font-normal">{{ r.face }}</th>
          <td v-for="p in places" :key="p.id" class="px-2 py-1">
            <template v-for="c in r.cells.has(p.id) ? [r.cells.get(p.id)!] : []" :key="c.placeId">
              <button
                type="button"
                class="min-h-6 border-b-2 px-1 text-left hover:bg-action-pale"
                :class="[wordOf(c).tone, isAt(c) ? 'border-ink' : 'border-transparent']"
                :aria-pressed="isAt(c)"
                @click="emit('look', c.faceId, c.placeId)"
              >
                <span aria-hidden="true" class="inline-block w-4">{{ wordOf(c).sign }}</span>{{ wordOf(c).word
                }}<span class="sr-only">: {{ c.face }} at {{ c.place }}</span>
              </button>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
