<script setup lang="ts">
import type { TermsPassage } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';

/** Sentences of the terms, each with what it stands under; the first few at once, all on request. */
const props = withDefaults(defineProps<{ sentences: readonly TermsPassage[]; most?: number }>(), { most: 4 });
const all = ref(false);
const shown = computed(() => (all.value ? props.sentences : props.sentences.slice(0, props.most)));
</script>

<template>
  <ul class="text-note">
    <li v-for="s in shown" :key="`${s.start} ${s.sentence.length}`" class="mt-0.5 border-l-2 border-rule-strong pl-2">
      <span v-if="s.context" class="text-soft">{{ s.context }}&ensp;</span><q class="font-serif italic">{{ s.sentence }}</q>
    </li>
    <li v-if="shown.length < sentences.length">
      <button type="button" class="link mt-0.5" @click="all = true">{{ sentences.length - shown.length }} more</button>
    </li>
  </ul>
</template>
