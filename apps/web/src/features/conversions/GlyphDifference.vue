<script setup lang="ts">
import type { Converted, GlyphDifference, Wish } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { call, routes, sentence } from '../../platform/api';

/** A glyph as it was and as it is, one over the other. */
const props = defineProps<{ made: Converted; wish: Wish }>();
const pair = ref<GlyphDifference | null>(null);
const problem = ref('');
/** Empty shows the glyph that differs most. */
const character = ref('');
let turn = 0;
watch(
  [character, () => props.made.sha256],
  async () => {
    const mine = ++turn;
    try {
      const found = await call(routes.compareConversion, {
        params: { faceId: props.made.faceId },
        body: { wish: props.wish, part: props.made.part, glyph: props.made.worstGlyph, character: [...character.value].at(-1) ?? '' },
      });
      if (mine !== turn) return;
      pair.value = found;
      problem.value = '';
    } catch (error) {
      if (mine === turn) problem.value = sentence(error);
    }
  },
  { immediate: true },
);
const box = computed(() => {
  const p = pair.value!;
  const side = Math.max(p.advance, p.advanceAfter, p.unitsPerEm / 4);
  return `${-0.1 * p.unitsPerEm} ${-p.ascender - 0.1 * p.unitsPerEm} ${side + 0.2 * p.unitsPerEm} ${p.ascender - p.descender + 0.2 * p.unitsPerEm}`;
});
const said = computed(() => (pair.value?.character ? `“${pair.value.character}”` : `glyph ${pair.value?.glyph ?? 0}`));
</script>

<template>
  <div class="mt-2 max-w-md border border-rule bg-sheet p-3">
    <p v-if="problem" role="alert" class="text-no">{{ problem }}</p>
    <template v-else-if="pair">
      <svg :viewBox="box" class="h-64 w-full" role="img" :aria-label="`${said} before and after, one over the other`">
        <g transform="scale(1,-1)">
          <line :x1="-pair.unitsPerEm" :x2="4 * pair.unitsPerEm" y1="0" y2="0" class="stroke-rule" :stroke-width="pair.unitsPerEm / 400" />
          <path v-if="pair.before" :d="pair.before" class="fill-rule" />
          <path v-if="pair.after" :d="pair.after" fill="none" class="stroke-action" :stroke-width="pair.unitsPerEm / 250" />
        </g>
      </svg>
      <p class="note mt-1">
        {{ said }}: filled as it came in, the line as it is made{{
          pair.advance === pair.advanceAfter ? '' : `; its width was ${Math.round(pair.advance)} and is ${Math.round(pair.advanceAfter)}`
        }}.<template v-if="pair.before === null || pair.after === null"> One of the two is not drawn.</template>
      </p>
      <label class="mt-2 flex items-center gap-2"
        ><span class="note">Show the character</span
        ><input v-model="character" class="field w-16" maxlength="4" :placeholder="pair.character" aria-label="Character to compare"
      /></label>
    </template>
    <p v-else class="note">Drawing …</p>
  </div>
</template>
