<script setup lang="ts">
import type { Answer } from '@orderly-glyph/schema';
import { ref, watch } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import { when } from '../../platform/words';

/** Where a face was put, taken off and looked at; fetched once it is opened. */
const props = defineProps<{ faceId: string }>();
const events = ref<Answer<typeof routes.faceHistory> | null>(null);
const problem = ref('');
const open = ref(false);
watch(
  () => [props.faceId, open.value] as const,
  async ([faceId, isOpen], before) => {
    if (before && before[0] !== faceId) events.value = null;
    if (!isOpen || events.value) return;
    try {
      events.value = await call(routes.faceHistory, { params: { faceId } });
    } catch (error) {
      problem.value = sentence(error);
    }
  },
);
const WORDS: Record<string, string> = {
  planned: 'about to be sent to',
  put: 'taken by',
  verified: 'there and the same at',
  assigned: 'given a role at',
  removing: 'about to come off',
  withdrawn: 'taken off',
  absent: 'not there any more at',
  unknown: 'no answer from',
};
</script>

<template>
  <details class="mt-2" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary class="link inline">What happened to it at places</summary>
    <p v-if="problem" class="note mt-1 text-no">{{ problem }}</p>
    <p v-else-if="events?.length === 0" class="note mt-1">It was never at any place.</p>
    <ol v-else-if="events" class="mt-1 border-t border-rule">
      <li v-for="(e, i) in events.filter((x) => x.kind !== 'planned' && x.kind !== 'removing')" :key="i" class="border-b border-rule py-1">
        {{ when(e.at) }}: {{ e.kind === 'assigned' && e.note === '' ? 'another face has its role at' : (WORDS[e.kind] ?? e.kind) }}
        {{ e.place }}<span class="note">, {{ e.by }}{{ e.note ? `; ${e.note}` : '' }}</span>
      </li>
    </ol>
  </details>
</template>
