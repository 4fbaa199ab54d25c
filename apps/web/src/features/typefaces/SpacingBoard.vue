<script setup lang="ts">
import type { TypefaceGlyph } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { sayGlyph, type FaceAtHand } from './typeface';

/** A word whose letters are moved by hand: sides of the chosen letter, and the pair it makes with the one before. */
const props = defineProps<{ at: FaceAtHand; text: string; editable: boolean }>();
const face = computed(() => props.at.face.value!);
const byCharacter = computed(() => new Map(face.value.glyphs.filter((g) => g.variant === 0).map((g) => [g.character, g])));
/** A letter that was made of another one moves with it. */
const lead = (g: TypefaceGlyph): string =>
  g.of && (g.of.length === 1 || g.of.slice(1).every((c) => /^\p{M}/u.test(c))) ? g.of[0]! : g.character;
const pairs = computed(() => new Map(face.value.pairs.map((p) => [`${p.left} ${p.right}`, p])));
const pairOf = (a: TypefaceGlyph, b: TypefaceGlyph) =>
  pairs.value.get(`${a.character} ${b.character}`) ?? pairs.value.get(`${lead(a)} ${lead(b)}`);
interface Stand {
  glyph: TypefaceGlyph;
  x: number;
  advance: number;
  /** By how much the pair with the letter before moves it. */
  kern: number;
  /** How far the drag that goes on moves its drawing within its advance. */
  shift: number;
}
const chosen = ref<number | null>(null);
type What = 'left' | 'right' | 'pair';
/** The drag that goes on, by so many thousandths of the em. */
const drag = ref<{ what: What; at: number; from: number; by: number } | null>(null);
const space = computed(() => (byCharacter.value.get('n')?.advance ?? 500) * 0.44);
const stands = computed(() => {
  const out: Stand[] = [];
  let x = 0;
  let before: TypefaceGlyph | null = null;
  const d = drag.value;
  const draggedCharacter = d ? letters.value[d.at]?.character : undefined;
  let index = 0;
  for (const c of props.text.slice(0, 60)) {
    const glyph = byCharacter.value.get(c);
    if (!glyph) {
      x += c === ' ' ? space.value : 0;
      before = null;
      continue;
    }
    let kern = before ? (pairOf(before, glyph)?.value ?? 0) : 0;
    if (d?.what === 'pair' && index === d.at) kern += d.by;
    x += kern;
    // A side that is dragged is that of every such letter in the word.
    const same = d && glyph.character === draggedCharacter;
    const left = same && d.what === 'left' ? d.by : 0;
    const right = same && d.what === 'right' ? d.by : 0;
    out.push({ glyph, x, advance: glyph.advance + left + right, kern, shift: left });
    x += glyph.advance + left + right;
    before = glyph;
    index++;
  }
  return out;
});
const letters = computed(() => [...props.text.slice(0, 60)].flatMap((c) => byCharacter.value.get(c) ?? []));
const width = computed(() => Math.max(600, ...stands.value.map((s) => s.x + s.advance)) + 80);
watch(
  () => props.text,
  () => (chosen.value = null),
);
const board = ref<SVGSVGElement | null>(null);
const unitsPerPx = (): number => {
  const m = board.value?.getScreenCTM();
  return m ? 1 / m.a : 1;
};
function take(event: PointerEvent, what: What, at: number): void {
  if (!props.editable) return;
  event.preventDefault();
  (event.target as Element).setPointerCapture(event.pointerId);
  drag.value = { what, at, from: event.clientX, by: 0 };
}
function move(event: PointerEvent): void {
  if (!drag.value) return;
  const by = Math.round((event.clientX - drag.value.from) * unitsPerPx());
  // The left side grows to the left.
  drag.value = { ...drag.value, by: drag.value.what === 'left' ? -by : by };
}
async function drop(): Promise<void> {
  const d = drag.value;
  if (!d) return;
  if (d.by !== 0) await keep(d.what, d.at, d.by);
  drag.value = null;
}
async function keep(what: What, at: number, by: number): Promise<void> {
  const { glyph } = stands.value[at]!;
  if (what === 'pair') {
    const before = stands.value[at - 1];
    if (!before) return;
    const was = pairOf(before.glyph, glyph)?.value ?? 0;
    await props.at.act({ act: 'pair', left: before.glyph.character, right: glyph.character, value: Math.round(was + by) });
    return;
  }
  await props.at.act({
    act: 'sides',
    character: glyph.character,
    left: what === 'left' ? Math.round(glyph.left + by) : glyph.locked.left ? glyph.left : null,
    right: what === 'right' ? Math.round(glyph.right + by) : glyph.locked.right ? glyph.right : null,
    leftAs: null,
    rightAs: null,
  });
}
/** Arrows move the side or the pair that has the focus; with Shift by ten. */
function key(event: KeyboardEvent, what: What, at: number): void {
  const step = (event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0) * (event.shiftKey ? 10 : 1);
  if (step === 0 || !props.editable) return;
  event.preventDefault();
  void keep(what, at, what === 'left' ? -step : step);
}
const say = (what: What, s: Stand, i: number): string =>
  what === 'left'
    ? `Left side of ${sayGlyph(s.glyph)}: ${Math.round(s.glyph.left)}`
    : what === 'right'
      ? `Right side of ${sayGlyph(s.glyph)}: ${Math.round(s.glyph.right)}`
      : `Pair ${stands.value[i - 1] ? sayGlyph(stands.value[i - 1]!.glyph) : ''} ${sayGlyph(s.glyph)}: ${Math.round(s.kern)}`;
const TOP = 1000;
const BOTTOM = 380;
/** The sides of the chosen letter, and the pair it makes with the one before. */
const handles = computed(() => {
  const i = chosen.value;
  const s = i === null ? undefined : stands.value[i];
  if (i === null || !s) return [];
  return [
    { what: 'left' as const, x: s.x, i, s },
    { what: 'right' as const, x: s.x + s.advance, i, s },
    ...(i > 0 && stands.value[i - 1]!.x + stands.value[i - 1]!.advance + s.kern >= s.x - 1
      ? [{ what: 'pair' as const, x: s.x, i, s }]
      : []),
  ];
});
</script>

<template>
  <div class="overflow-x-auto border border-rule bg-sheet">
    <svg
      ref="board"
      :viewBox="`-40 ${-TOP} ${width} ${TOP + BOTTOM}`"
      class="h-56 min-w-full touch-none"
      preserveAspectRatio="xMinYMid meet"
      role="group"
      aria-label="Sides and pairs by hand"
      @pointermove="move"
      @pointerup="drop"
      @pointercancel="drag = null"
    >
      <line :x1="-40" :x2="width" y1="0" y2="0" stroke="var(--rule-strong)" stroke-width="2" />
      <g v-for="(s, i) in stands" :key="i">
        <rect
          :x="s.x"
          :y="-TOP + 60"
          :width="s.advance"
          :height="TOP + BOTTOM - 120"
          :fill="chosen === i ? 'var(--action)' : 'transparent'"
          fill-opacity="0.08"
          class="cursor-pointer"
          tabindex="0"
          role="button"
          :aria-label="`${sayGlyph(s.glyph)}, ${Math.round(s.glyph.left)} and ${Math.round(s.glyph.right)}`"
          :aria-pressed="chosen === i"
          @click="chosen = i"
          @keydown.enter.prevent="chosen = i"
          @keydown.space.prevent="chosen = i"
        />
        <path :d="s.glyph.path" :transform="`translate(${s.x + s.shift} 0)`" fill="var(--ink)" class="pointer-events-none" />
      </g>
      <g v-for="h in handles" :key="h.what">
        <line
          :x1="h.x"
          :x2="h.x"
          :y1="h.what === 'pair' ? 200 : -TOP + 60"
          :y2="h.what === 'pair' ? BOTTOM - 60 : 160"
          stroke="var(--action)"
          stroke-width="4"
          :stroke-dasharray="h.what === 'pair' ? '16 10' : undefined"
        />
        <rect
          :x="h.what === 'left' ? h.x - 76 : h.what === 'right' ? h.x + 6 : h.x - 40"
          :y="h.what === 'pair' ? 240 : -TOP + 60"
          :width="h.what === 'pair' ? 80 : 70"
          height="80"
          rx="8"
          fill="var(--action)"
          class="cursor-ew-resize"
          :tabindex="editable ? 0 : -1"
          role="slider"
          aria-valuemin="-2000"
          aria-valuemax="4000"
          :aria-valuenow="Math.round(h.what === 'pair' ? h.s.kern : h.what === 'left' ? h.s.glyph.left : h.s.glyph.right)"
          :aria-label="say(h.what, h.s, h.i)"
          @pointerdown="take($event, h.what, h.i)"
          @keydown="key($event, h.what, h.i)"
        />
      </g>
    </svg>
    <p class="note border-t border-rule px-3 py-1" aria-live="polite">
      <template v-if="handles.length > 0"
        >{{ handles.map((h) => say(h.what, h.s, h.i)).join('; ') }}{{ drag ? ` (${drag.by > 0 ? '+' : ''}${drag.by})` : '' }}</template
      ><template v-else
        >Choose a letter, then drag its sides above it, or below it the distance to the letter before; arrow keys move by one, with Shift by
        ten.</template
      >
    </p>
  </div>
</template>
