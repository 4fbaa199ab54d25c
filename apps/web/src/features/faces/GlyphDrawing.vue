<script setup lang="ts">
import type { GlyphDetail } from '@orderly-glyph/schema';
import { computed } from 'vue';

const props = defineProps<{ glyph: GlyphDetail; points: boolean }>();
/** Room around the glyph: the em with a margin, wider where the glyph is. */
const box = computed(() => {
  const g = props.glyph;
  const pad = g.unitsPerEm * 0.08;
  const left = Math.min(0, g.bounds?.xMin ?? 0) - pad;
  const right = Math.max(g.advanceWidth, g.bounds?.xMax ?? 0) + pad;
  const top = Math.max(g.capHeight ?? g.ascender * 0.7, g.bounds?.yMax ?? 0) + pad;
  const bottom = Math.min(0, g.bounds?.yMin ?? 0) - pad;
  return { left, top: -top, width: right - left, height: top - bottom };
});
const lines = computed(() =>
  [
    { name: 'cap height', y: props.glyph.capHeight },
    { name: 'x-height', y: props.glyph.xHeight },
    { name: 'baseline', y: 0 },
  ].filter((l): l is { name: string; y: number } => l.y !== null),
);
const dot = computed(() => box.value.height / 150);
</script>

<template>
  <svg
    :viewBox="`${box.left} ${box.top} ${box.width} ${box.height}`"
    class="h-64 w-full border border-rule bg-sheet"
    role="img"
    :aria-label="`Outline of ${glyph.name ?? `glyph ${glyph.glyph}`} with its metrics`"
  >
    <g fill="none" vector-effect="non-scaling-stroke">
      <line
        v-for="l in lines"
        :key="l.name"
        :x1="box.left"
        :x2="box.left + box.width"
        :y1="-l.y"
        :y2="-l.y"
        class="stroke-rule-strong"
        stroke-width="1"
        vector-effect="non-scaling-stroke"
        :stroke-dasharray="l.y === 0 ? '' : '4 4'"
      />
      <line
        v-for="x in [0, glyph.advanceWidth]"
        :key="x"
        :x1="x"
        :x2="x"
        :y1="box.top"
        :y2="box.top + box.height"
        class="stroke-no"
        stroke-width="1"
        vector-effect="non-scaling-stroke"
      />
    </g>
    <path
      :d="glyph.path"
      transform="scale(1 -1)"
      fill-rule="nonzero"
      :class="points ? 'fill-action-pale stroke-ink' : 'fill-ink'"
      stroke-width="1"
      vector-effect="non-scaling-stroke"
    />
    <template v-if="points">
      <circle
        v-for="(p, i) in glyph.points"
        :key="i"
        :cx="p.x"
        :cy="-p.y"
        :r="dot"
        :class="p.on ? 'fill-action' : 'fill-sheet stroke-action'"
        stroke-width="1"
        vector-effect="non-scaling-stroke"
      />
    </template>
  </svg>
</template>
