<script setup lang="ts">
import type { TypefaceGlyph } from '@orderly-glyph/schema';
import { computed } from 'vue';

/** A glyph in the middle of a square, at one scale with its neighbors. */
const props = defineProps<{ glyph: Pick<TypefaceGlyph, 'path' | 'advance'>; size: number }>();
const box = computed(() => `${props.glyph.advance / 2 - 700} -1000 1400 1400`);
</script>

<template>
  <svg :width="size" :height="size" :viewBox="box" aria-hidden="true" class="shrink-0"><path :d="glyph.path" fill="currentColor" /></svg>
</template>
