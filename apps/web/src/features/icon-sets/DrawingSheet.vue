<script setup lang="ts">
import type { Drawing } from '@orderly-glyph/schema';
import { computed, nextTick, ref } from 'vue';
import IconMark from './IconMark.vue';
import { gravest } from './icon-set';

/** The drawings of a set side by side on one em square each; chosen as files are: with mouse, Shift, Ctrl and arrow keys. */
const props = defineProps<{ drawings: readonly Drawing[]; size: number; ink: string; paper: string }>();
const chosen = defineModel<string[]>({ required: true });
const emit = defineEmits<{ remove: [ids: string[]] }>();
const sheet = ref<HTMLElement | null>(null);
const at = ref(0);
/** Where a range begins. */
let anchor = 0;
const cell = computed(() => Math.max(84, props.size + 32));

function choose(i: number, event: MouseEvent | KeyboardEvent): void {
  const id = props.drawings[i]!.id;
  if (event.shiftKey) {
    const [from, to] = [Math.min(anchor, i), Math.max(anchor, i)];
    chosen.value = props.drawings.slice(from, to + 1).map((d) => d.id);
  } else if (event.ctrlKey || event.metaKey) {
    chosen.value = chosen.value.includes(id) ? chosen.value.filter((c) => c !== id) : [...chosen.value, id];
    anchor = i;
  } else {
    chosen.value = [id];
    anchor = i;
  }
  at.value = i;
}
async function go(i: number, event: KeyboardEvent): Promise<void> {
  const next = Math.min(props.drawings.length - 1, Math.max(0, i));
  event.preventDefault();
  if (event.ctrlKey || event.metaKey) at.value = next;
  else choose(next, event);
  await nextTick();
  sheet.value?.querySelectorAll<HTMLElement>('[role=option]')[next]?.focus();
}
function key(event: KeyboardEvent): void {
  const columns = Math.max(1, Math.floor((sheet.value?.clientWidth ?? cell.value) / cell.value));
  const steps: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: columns, ArrowUp: -columns };
  const step = steps[event.key];
  if (step !== undefined) void go(at.value + step, event);
  else if (event.key === 'Home') void go(0, event);
  else if (event.key === 'End') void go(props.drawings.length - 1, event);
  else if (event.key === ' ') {
    event.preventDefault();
    choose(at.value, new MouseEvent('click', { ctrlKey: true }));
  } else if (event.key === 'a' && (event.ctrlKey || event.metaKey)) {
    event.preventDefault();
    chosen.value = props.drawings.map((d) => d.id);
  } else if (event.key === 'Delete' && chosen.value.length > 0) emit('remove', [...chosen.value]);
  else if (event.key === 'Escape') chosen.value = [];
}
const MARKS = { lost: 'Part of it is missing', look: 'Look at it' } as const;
</script>

<template>
  <div
    ref="sheet"
    role="listbox"
    aria-multiselectable="true"
    aria-label="Drawings"
    class="grid border-t border-l border-rule"
    :style="{ gridTemplateColumns: `repeat(auto-fill, minmax(${cell}px, 1fr))` }"
    @keydown="key"
  >
    <div
      v-for="(d, i) in drawings"
      :key="d.id"
      role="option"
      :aria-selected="chosen.includes(d.id)"
      :aria-label="`${d.name}${gravest(d) ? `. ${MARKS[gravest(d)!]}` : ''}`"
      :tabindex="i === Math.min(at, drawings.length - 1) ? 0 : -1"
      class="relative flex min-w-0 cursor-pointer flex-col items-center border-r border-b border-rule select-none focus-visible:z-10"
      :class="chosen.includes(d.id) ? 'outline-2 -outline-offset-2 outline-action' : ''"
      @focus="at = i"
      @click="choose(i, $event)"
    >
      <span class="flex w-full flex-1 items-center justify-center py-3" :style="{ color: ink, background: paper }"
        ><IconMark :drawing="d" :size="size"
      /></span>
      <span
        class="w-full truncate px-1 pb-1 text-center text-[12px] leading-5"
        :class="chosen.includes(d.id) ? 'bg-action-pale font-semibold' : 'bg-sheet'"
        >{{ d.name }}</span
      >
      <span
        v-if="gravest(d)"
        class="absolute top-1 right-1 inline-flex h-4 w-4 items-center justify-center text-[11px] font-bold"
        :class="gravest(d) === 'lost' ? 'bg-no text-sheet' : 'rounded-full bg-ask-pale text-ask'"
        :title="MARKS[gravest(d)!]"
        aria-hidden="true"
        >{{ gravest(d) === 'lost' ? '×' : '?' }}</span
      >
    </div>
  </div>
</template>
