<script setup lang="ts">
import { computed } from 'vue';

const props = defineProps<{ answer: 'yes' | 'ask' | 'no'; label?: string; short?: boolean }>();
const words = { yes: 'Yes', ask: 'Ask first', no: 'No' };
/** Where eleven stand in a row; the mark's shape says the rest. */
const shorter = { yes: 'Yes', ask: 'Ask', no: 'No' };
const look = computed(() => ({ yes: 'bg-yes-pale text-yes', ask: 'bg-ask-pale text-ask', no: 'bg-no-pale text-no' })[props.answer]);
</script>

<template>
  <span class="inline-flex items-center gap-1.5 rounded-sm px-1.5 text-note font-semibold whitespace-nowrap" :class="look">
    <svg viewBox="0 0 12 12" width="11" height="11" aria-hidden="true" fill="none" stroke="currentColor" stroke-width="1.8">
      <circle v-if="answer === 'yes'" cx="6" cy="6" r="4.6" fill="currentColor" />
      <path v-else-if="answer === 'ask'" d="M6 1.2 10.8 10.4H1.2Z" />
      <path v-else d="M1.5 6h9M1.5 1.5h9v9h-9Z" />
    </svg>
    <template v-if="label">{{ label }}: </template>{{ short ? shorter[answer] : words[answer] }}
  </span>
</template>
