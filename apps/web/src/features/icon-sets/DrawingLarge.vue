<script setup lang="ts">
import type { Drawing } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import IconMark from './IconMark.vue';

/** One drawing large on its board with a grid; the original lies under it in red while it is held, so that what is lost shows. */
const props = defineProps<{ drawing: Drawing }>();
const held = ref(false);
const original = computed(() => `data:image/svg+xml,${encodeURIComponent(props.drawing.source)}`);
/** Lines of the grid: the drawing's own units, up to where they would be too close. */
const units = computed(() => {
  const side = props.drawing.size;
  const step = side <= 32 ? 1 : side <= 64 ? 2 : side / 24;
  return Math.round(side / step);
});
</script>

<template>
  <div>
    <div class="relative aspect-square w-full border border-rule-strong bg-sheet text-ink">
      <svg viewBox="0 0 100 100" class="absolute inset-0 h-full w-full" aria-hidden="true">
        <g stroke="var(--rule)" stroke-width="0.2">
          <path
            v-for="i in units - 1"
            :key="i"
            :d="`M${(i * 100) / units} 0V100M0 ${(i * 100) / units}H100`"
            :stroke-opacity="i * 2 === units ? 1 : 0.55"
          />
        </g>
      </svg>
      <img v-if="held" :src="original" alt="The drawing as it came in" class="absolute inset-0 h-full w-full object-contain original" />
      <div class="absolute inset-0 [&>svg]:h-full [&>svg]:w-full" :class="held ? 'opacity-60' : ''">
        <IconMark :drawing="drawing" :size="300" />
      </div>
    </div>
    <button
      type="button"
      class="press-quiet mt-2 w-full"
      :aria-pressed="held"
      @pointerdown="held = true"
      @pointerup="held = false"
      @pointerleave="held = false"
      @keydown.space.prevent="held = true"
      @keyup.space="held = false"
      @blur="held = false"
    >
      Hold to see the original under it
    </button>
  </div>
</template>

<style scoped>
/* In rubric red whatever its colors are, so that what the glyph lacks stands out. */
.original {
  filter: brightness(0) saturate(100%) invert(20%) sepia(70%) saturate(3000%) hue-rotate(350deg);
}
</style>
