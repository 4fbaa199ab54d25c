<script setup lang="ts">
import type { LicenseFields } from '@orderly-glyph/schema';
import { openLicense, type TermsReading } from '@orderly-glyph/schema';
import { computed } from 'vue';

/** What a license asks in return: what its known text does, what its terms seem to ask, and what was agreed beside that. */
const form = defineModel<LicenseFields>({ required: true });
const props = defineProps<{ terms: TermsReading | null }>();
/** Duties that many licenses ask; one press puts them on the list, where they can be reworded. */
const COMMON = [
  'Credit the maker: ',
  'Pass the license text along with the font file.',
  'Keep the file unmodified.',
  'Remove the face when the license ends.',
  'What was made while the license ran may stay.',
];
const offered = computed(() => COMMON.filter((d) => !form.value.duties.some((own) => own.startsWith(d.trim()))));
const found = computed(() =>
  (props.terms?.duties ?? []).map((d) => d.sentence.slice(0, 300)).filter((d) => !form.value.duties.includes(d)),
);
const known = computed(() => (form.value.spdxId ? (openLicense(form.value.spdxId)?.duties ?? []) : []));
const add = (duty: string): void => void (form.value.duties = [...form.value.duties, duty]);
function set(i: number, event: Event): void {
  form.value.duties = form.value.duties.map((d, k) => (k === i ? (event.target as HTMLInputElement).value : d));
}
</script>

<template>
  <div>
    <h2>In return</h2>
    <p v-if="known.length > 0" class="note">{{ known.join(' ') }} What else was agreed:</p>
    <p v-for="d in found" :key="d" class="mt-1 border-l-2 border-action pl-2 text-note">
      The terms seem to ask: “{{ d }}”
      <button type="button" class="link ml-1" @click="add(d)">
        Take it<span class="sr-only"> as a duty: {{ d }}</span>
      </button>
    </p>
    <div v-for="(d, i) in form.duties" :key="i" class="mt-1 flex gap-2">
      <input class="field" maxlength="300" :value="d" :aria-label="`Duty ${i + 1}`" @input="set(i, $event)" />
      <button
        type="button"
        class="link shrink-0 text-note"
        :aria-label="`Take off duty ${i + 1}`"
        @click="form.duties = form.duties.filter((_, k) => k !== i)"
      >
        Take off
      </button>
    </div>
    <p class="mt-1 flex flex-wrap gap-x-4 gap-y-1">
      <button v-for="d in offered" :key="d" type="button" class="link text-note" @click="add(d)">{{ d.replace(/[:.]\s*$/, '') }}</button>
      <button type="button" class="link text-note" @click="add('')">Something else</button>
    </p>
  </div>
</template>
