<script setup lang="ts">
import type { Drawing } from '@orderly-glyph/schema';
import { paintsOf } from './icon-set';

/** A drawing at a size in px, in the color of the text around it or in its own. */
defineProps<{ drawing: Pick<Drawing, 'path' | 'layers'>; size: number }>();
</script>

<template>
  <svg :width="size" :height="size" viewBox="0 0 1200 1200" aria-hidden="true" class="shrink-0 overflow-visible">
    <path v-for="(p, i) in paintsOf(drawing)" :key="i" :d="p.path" :fill="p.color" :fill-opacity="p.alpha" />
  </svg>
</template>
