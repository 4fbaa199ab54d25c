<script setup lang="ts">
import { computed } from 'vue';
import LiveText from '../faces/LiveText.vue';
import { useLibrary } from '../library/library';
import VerdictMark from '../licenses/VerdictMark.vue';
import type { Finding, Use } from './finding';
import { laid, SURE } from './words';

/** Families that the picture may be set in, the nearest first. */
const props = defineProps<{ at: Finding; use: Use }>();
const chosen = defineModel<number>({ required: true });
const library = useLibrary();
const answer = computed(() => props.at.answer.value!);
const rows = computed(() =>
  answer.value.families.flatMap((f, i) => {
    const entry = library.faces.get(f.faceId);
    if (!entry) return [];
    const { face, family } = entry;
    const verdict = family.groups.find((g) => g.faceIds.includes(face.id))?.verdicts[props.use] ?? family.verdicts[props.use];
    const twins = f.twins.flatMap((id) => library.faces.get(id)?.family.name ?? []);
    return [{ f, i, face, family, verdict, twins: [...new Set(twins)] }];
  }),
);
const word = (i: number): string => (i === 0 ? SURE[answer.value.sureness].first : SURE[answer.value.sureness].other);
</script>

<template>
  <ol class="mt-2 border-t border-rule">
    <li v-for="{ f, i, face, family, verdict, twins } in rows" :key="f.faceId" class="border-b border-rule">
      <button
        type="button"
        class="flex w-full flex-wrap items-baseline gap-x-5 gap-y-1 py-3 text-left"
        :class="{ 'bg-sheet': chosen === i }"
        :aria-pressed="chosen === i"
        @click="chosen = i"
      >
        <span class="min-w-0 flex-1 basis-72 text-[30px] leading-10 break-words"
          ><LiveText :face="face" :text="at.reading.value.word || family.name"
        /></span>
        <span class="basis-56">
          <span class="block font-semibold">{{ family.name }} {{ face.style }}</span>
          <span class="note block">{{ word(i) }}{{ laid(f) ? `; ${laid(f)}` : '' }}</span>
          <span v-if="twins.length > 0" class="note block">Drawn alike: {{ twins.join(', ') }}</span>
        </span>
        <span class="basis-28"><VerdictMark :answer="verdict" /></span>
      </button>
    </li>
  </ol>
</template>
