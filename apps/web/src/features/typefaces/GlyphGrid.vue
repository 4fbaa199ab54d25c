<script setup lang="ts">
import type { TypefaceGlyph } from '@orderly-glyph/schema';
import { computed, nextTick, ref } from 'vue';
import GlyphMark from './GlyphMark.vue';
import { sayGlyph } from './typeface';

/** All glyphs side by side; chosen as files are: with mouse, Shift, Ctrl and arrow keys. */
const props = defineProps<{ glyphs: readonly TypefaceGlyph[] }>();
const chosen = defineModel<string[]>({ required: true });
const emit = defineEmits<{ remove: [] }>();
const grid = ref<HTMLElement | null>(null);
const at = ref(0);
let anchor = 0;
const CELL = 84;
const last = computed(() => props.glyphs.length - 1);

function choose(i: number, event: MouseEvent | KeyboardEvent): void {
  const { name } = props.glyphs[i]!;
  if (event.shiftKey) chosen.value = props.glyphs.slice(Math.min(anchor, i), Math.max(anchor, i) + 1).map((g) => g.name);
  else if (event.ctrlKey || event.metaKey) {
    chosen.value = chosen.value.includes(name) ? chosen.value.filter((c) => c !== name) : [...chosen.value, name];
    anchor = i;
  } else {
    chosen.value = [name];
    anchor = i;
  }
  at.value = i;
}
async function key(event: KeyboardEvent): Promise<void> {
  const columns = Math.max(1, Math.floor((grid.value?.clientWidth ?? CELL) / CELL));
  const steps: Record<string, number> = {
    ArrowRight: 1,
    ArrowLeft: -1,
    ArrowDown: columns,
    ArrowUp: -columns,
    Home: -at.value,
    End: last.value - at.value,
  };
  const step = steps[event.key];
  if (step !== undefined) {
    event.preventDefault();
    const next = Math.min(last.value, Math.max(0, at.value + step));
    if (event.ctrlKey || event.metaKey) at.value = next;
    else choose(next, event);
    await nextTick();
    grid.value?.querySelectorAll<HTMLElement>('[role=option]')[next]?.focus();
  } else if (event.key === ' ') {
    event.preventDefault();
    choose(at.value, new MouseEvent('click', { ctrlKey: true }));
  } else if (event.key === 'a' && (event.ctrlKey || event.metaKey)) {
    event.preventDefault();
    chosen.value = props.glyphs.map((g) => g.name);
  } else if (event.key === 'Delete' && chosen.value.length > 0) emit('remove');
  else if (event.key === 'Escape') chosen.value = [];
}
</script>

<template>
  <div
    ref="grid"
    role="listbox"
    aria-multiselectable="true"
    aria-label="Letters"
    class="grid border-t border-l border-rule"
    :style="{ gridTemplateColumns: `repeat(auto-fill, minmax(${CELL}px, 1fr))` }"
    @keydown="key"
  >
    <div
      v-for="(g, i) in glyphs"
      :key="g.name"
      role="option"
      :aria-selected="chosen.includes(g.name)"
      :aria-label="`${sayGlyph(g)}${g.of ? ', composed' : ''}${g.findings.length > 0 ? `. ${g.findings[0]!.message}` : ''}`"
      :tabindex="i === Math.min(at, last) ? 0 : -1"
      class="relative flex min-w-0 cursor-pointer flex-col items-center border-r border-b border-rule bg-sheet pt-1 select-none focus-visible:z-10"
      :class="chosen.includes(g.name) ? 'outline-2 -outline-offset-2 outline-action' : ''"
      @focus="at = i"
      @click="choose(i, $event)"
    >
      <GlyphMark :glyph="g" :size="60" />
      <span
        class="w-full truncate px-1 text-center text-[12px] leading-5"
        :class="chosen.includes(g.name) ? 'bg-action-pale font-semibold' : ''"
        >{{ sayGlyph(g) }}<span v-if="g.of" class="text-soft"> +</span></span
      >
      <span
        v-if="g.findings.length > 0"
        class="absolute top-1 right-1 inline-flex h-4 w-4 items-center justify-center rounded-full bg-ask-pale text-[11px] font-bold text-ask"
        :title="g.findings.map((f) => f.message).join(' ')"
        aria-hidden="true"
        >?</span
      >
    </div>
  </div>
</template>
