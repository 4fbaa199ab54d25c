<script setup lang="ts">
import type { FaceLine } from '../library/library';
import { computed, toRef } from 'vue';
import { codePointName, drawingsInstead, splitByCoverage, useLiveFace } from './live-type';

const props = defineProps<{ face: FaceLine; text: string }>();
// What writes no text is shown by its drawings.
const shown = computed(() => drawingsInstead(props.text, props.face.writes) ?? props.text);
const { family, state, problem } = useLiveFace(toRef(props, 'face'), shown);
const parts = computed(() => splitByCoverage(shown.value, props.face.writes));
const missing = computed(() => parts.value.filter((p) => p.missing).length);
// Some faces stand far above or below; the line keeps its own height whatever the face says.
const style = computed(() =>
  state.value === 'ready' ? { fontFamily: `"${family.value}"`, fontWeight: 'normal', fontSynthesis: 'none' } : {},
);
defineExpose({ state, missing });
</script>

<template>
  <span v-if="state === 'failed'" class="note inline-block whitespace-normal !text-[13px] !leading-[18px] text-no">{{ problem }}</span>
  <span v-else :style="style" :class="{ 'opacity-0': state === 'loading' }" dir="auto" :data-live="state" class="live"
    ><template v-for="(part, i) in parts" :key="i"
      ><span
        v-if="part.missing"
        class="border-b-2 border-dotted border-no font-sans text-[0.7em] text-no"
        :title="`${part.text} (${[...part.text].map(codePointName).join(' ')}) is not in this face`"
        >{{ part.text }}</span
      ><template v-else>{{ part.text }}</template></template
    ></span
  >
</template>
