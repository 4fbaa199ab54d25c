<script setup lang="ts">
import type { Delivery } from '@orderly-glyph/schema';
import LiveText from '../faces/LiveText.vue';
import { useLibrary } from '../library/library';
import { size } from '../../platform/words';

/** What became of each face of a delivery, with what was stated for it. */
defineProps<{ delivery: Delivery }>();
const library = useLibrary();
const at = (iso: string): string => new Date(iso).toLocaleString('en-US', { dateStyle: 'long', timeStyle: 'short' });
const MARK = {
  installed: 'border-yes bg-yes-pale',
  removed: 'border-yes bg-yes-pale',
  refused: 'border-no bg-no-pale',
  unknown: 'border-ask bg-ask-pale',
  waiting: 'border-rule-strong',
} as const;
</script>

<template>
  <ol class="border-t border-rule">
    <li v-for="i in delivery.items" :key="i.faceId" class="border-b border-rule py-5">
      <p class="overflow-hidden text-[40px] leading-[56px] whitespace-nowrap">
        <LiveText v-if="library.faces.get(i.faceId)" :face="library.faces.get(i.faceId)!.face" :text="i.face" />
      </p>
      <p class="border-l-4 px-4 py-1" :class="MARK[i.state]">{{ i.message || 'Waiting its turn.' }}</p>
      <p v-if="i.sha256" class="note mt-2">
        {{ size(i.bytes ?? 0) }} · <span class="code">SHA-256 {{ i.sha256 }}</span>
      </p>
      <div v-if="i.statement" class="mt-3">
        <p class="quote">{{ i.statement.words }}</p>
        <p class="note mt-1">
          Stated by {{ i.statement.person }}, {{ at(i.statement.at) }}, resting on
          {{ i.statement.licenseName ?? 'no license on record' }}.{{
            i.statement.overridden
              ? ` The answer was No; an owner went ahead: ${i.statement.note}`
              : i.statement.note
                ? ` Why, although the license does not settle it: ${i.statement.note}`
                : ''
          }}
        </p>
      </div>
    </li>
  </ol>
</template>
