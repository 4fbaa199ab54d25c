<script setup lang="ts">
import type { ReadPageAnswer } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { sayGlyph } from './typeface';

/** A page as it was sent, with the boxes that are to be looked at marked on it. */
const props = defineProps<{ page: ReadPageAnswer }>();
const size = ref<{ width: number; height: number } | null>(null);
const marked = computed(() =>
  props.page.boxes.flatMap((b) => {
    const told = b.findings.filter((f) => f.severity !== 'note');
    return told.length > 0 ? [{ ...b, told, stops: told.some((f) => f.severity === 'stops') }] : [];
  }),
);
const pointsOf = (corners: readonly (readonly number[])[]): string =>
  corners.map(([x, y]) => `${x! * size.value!.width},${y! * size.value!.height}`).join(' ');
function measure(event: Event): void {
  const image = event.target as HTMLImageElement;
  size.value = { width: image.naturalWidth, height: image.naturalHeight };
}
</script>

<template>
  <figure v-if="page.picture" class="relative mt-2 inline-block max-w-full border border-rule">
    <img :src="page.picture" alt="The page as it was sent" class="block max-h-[70vh] max-w-full" @load="measure" />
    <svg v-if="size" class="absolute inset-0 h-full w-full" :viewBox="`0 0 ${size.width} ${size.height}`" aria-hidden="true">
      <polygon
        v-for="b in marked"
        :key="sayGlyph(b)"
        :points="pointsOf(b.corners)"
        fill="none"
        :stroke="b.stops ? 'var(--no)' : 'var(--ask)'"
        stroke-width="5"
      >
        <title>{{ sayGlyph(b) }}: {{ b.told.map((f) => f.message).join(' ') }}</title>
      </polygon>
    </svg>
  </figure>
</template>
