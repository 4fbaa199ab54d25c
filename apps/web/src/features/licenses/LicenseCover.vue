<script setup lang="ts">
import type { Install, LicenseFields } from '@orderly-glyph/schema';
import { computed } from 'vue';
import { useLibrary } from '../library/library';
import { count } from '../../platform/words';

/** The families a license covers, which can be taken off or put on, and where they are installed. */
const form = defineModel<LicenseFields>({ required: true });
const library = useLibrary();
const covered = computed(() => {
  const groups = new Map<string, { id: string; name: string; faceIds: string[] }>();
  for (const id of form.value.faceIds) {
    const family = library.faces.get(id)?.family;
    const key = family?.id ?? '';
    const group = groups.get(key) ?? { id: key, name: family?.name ?? 'Faces no longer in the library', faceIds: [] };
    group.faceIds.push(id);
    groups.set(key, group);
  }
  return [...groups.values()].sort((a, b) => a.name.localeCompare(b.name, 'en'));
});
const uncovered = computed(() => library.families.filter((f) => f.faces.some((x) => !form.value.faceIds.includes(x.id))));
function cover(event: Event): void {
  const select = event.target as HTMLSelectElement;
  const family = library.families.find((f) => f.id === select.value);
  select.value = '';
  if (family) form.value.faceIds = [...new Set([...form.value.faceIds, ...family.faces.map((f) => f.id)])];
}
function uncover(faceIds: readonly string[]): void {
  form.value.faceIds = form.value.faceIds.filter((id) => !faceIds.includes(id));
}
const installs = computed<Install[]>(() => {
  const ids = new Set(form.value.faceIds);
  return library.places.flatMap((p) => p.installs.filter((i) => ids.has(i.faceId)));
});
</script>

<template>
  <div>
    <h2>What it covers</h2>
    <ul class="mt-1 max-h-72 overflow-y-auto border-t border-rule">
      <li v-for="g in covered" :key="g.id" class="flex justify-between gap-4 border-b border-rule py-1">
        <span class="truncate"
          >{{ g.name }} <span class="note">{{ count(g.faceIds.length, 'face') }}</span></span
        >
        <button type="button" class="link shrink-0 text-note" :aria-label="`Take off ${g.name}`" @click="uncover(g.faceIds)">
          Take off
        </button>
      </li>
    </ul>
    <label v-if="uncovered.length > 0" class="mt-2 block"
      >Put a family under it<select class="field block max-w-md" @change="cover">
        <option value=""></option>
        <option v-for="f in uncovered" :key="f.id" :value="f.id">{{ f.name }}</option>
      </select></label
    >
    <p v-if="installs.length > 0" class="mt-2">
      Installed:
      <span v-for="(i, n) in installs.slice(0, 12)" :key="i.id">{{ n > 0 ? '; ' : '' }}{{ i.face }} on {{ i.place }}</span
      >{{ installs.length > 12 ? ` and ${installs.length - 12} more` : '' }}.
    </p>
  </div>
</template>
