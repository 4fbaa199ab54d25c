<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue';
import type { Finding } from './finding';

/** The picture and what is done to it: cut out, straightened, cleaned, taken apart. */
const props = defineProps<{ at: Finding; overlay: string | null; mode: 'over' | 'blink' | 'edges' | 'beside' | 'none' }>();
const { at } = props;
type Tool = 'none' | 'crop' | 'straighten' | 'corners' | 'erase' | 'paint' | 'cut' | 'ground' | 'ink';
const TOOLS: readonly { id: Tool; name: string; told: string }[] = [
  { id: 'crop', name: 'Cut out', told: 'Drag a box around one line of letters.' },
  { id: 'straighten', name: 'Straighten', told: 'Mark two points on one line of writing, from left to right.' },
  {
    id: 'corners',
    name: 'Four corners',
    told: 'Mark the corners of something rectangular: left top, right top, right bottom, left bottom.',
  },
  { id: 'erase', name: 'Erase', told: 'Draw over what is no letter.' },
  { id: 'paint', name: 'Paint', told: 'Draw what is missing.' },
  { id: 'cut', name: 'Part letters', told: 'Drag a line between letters that touch.' },
  { id: 'ground', name: 'Pick the ground', told: 'Press where there is no ink.' },
  { id: 'ink', name: 'Pick the ink', told: 'Press on the letters.' },
];
const tool = ref<Tool>('none');
const onlyInk = ref(false);
const radius = ref(4);
const canvas = ref<HTMLCanvasElement | null>(null);
const points = ref<[number, number][]>([]);
const shape = computed(() => at.prepared.value);

function paint(): void {
  const p = shape.value;
  const c = canvas.value;
  if (!p || !c) return;
  c.width = p.width;
  c.height = p.height;
  const context = c.getContext('2d')!;
  const data = new ImageData(p.width, p.height);
  if (onlyInk.value)
    for (let i = 0; i < p.ink.length; i++) {
      const v = 255 - p.ink[i]!;
      data.data.set([v, v, v, 255], 4 * i);
    }
  else data.data.set(p.picture);
  context.putImageData(data, 0, 0);
}
onMounted(paint);
watch([shape, onlyInk], paint, { flush: 'post' });

const place = (event: PointerEvent): [number, number] => {
  const box = canvas.value!.getBoundingClientRect();
  const p = shape.value!;
  return [((event.clientX - box.left) * p.width) / box.width, ((event.clientY - box.top) * p.height) / box.height];
};
let drawing = false;
function down(event: PointerEvent): void {
  if (tool.value === 'none' || !shape.value) return;
  event.preventDefault();
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  const at_ = place(event);
  if (tool.value === 'ground' || tool.value === 'ink') {
    const [x, y] = at_.map(Math.floor) as [number, number];
    const i = 4 * (Math.min(shape.value.height - 1, Math.max(0, y)) * shape.value.width + Math.min(shape.value.width - 1, Math.max(0, x)));
    const color: [number, number, number] = [shape.value.picture[i]!, shape.value.picture[i + 1]!, shape.value.picture[i + 2]!];
    at.set(tool.value === 'ground' ? { ground: color } : { ink: color });
    tool.value = 'none';
    return;
  }
  if (tool.value === 'straighten' || tool.value === 'corners') {
    points.value = [...points.value, at_];
    if (tool.value === 'straighten' && points.value.length === 2) {
      const [[ax, ay], [bx, by]] = points.value as [[number, number], [number, number]];
      let degrees = (-Math.atan2(by - ay, bx - ax) * 180) / Math.PI;
      // From right to left is meant the same.
      if (Math.abs(degrees) > 90) degrees -= Math.sign(degrees) * 180;
      done({ edit: 'turn', degrees });
    } else if (tool.value === 'corners' && points.value.length === 4) done({ edit: 'corners', corners: points.value });
    return;
  }
  drawing = true;
  points.value = [at_];
}
function move(event: PointerEvent): void {
  if (!drawing) return;
  points.value =
    tool.value === 'crop' || tool.value === 'cut' ? [points.value[0]!, place(event)] : [...points.value, place(event)].slice(-4000);
}
function up(): void {
  if (!drawing) return;
  drawing = false;
  const list = points.value;
  const [a, b] = [list[0]!, list[list.length - 1]!];
  if (tool.value === 'crop') {
    if (Math.abs(a[0] - b[0]) > 4 && Math.abs(a[1] - b[1]) > 4) done({ edit: 'crop', x0: a[0], y0: a[1], x1: b[0], y1: b[1] });
    else points.value = [];
  } else if (tool.value === 'cut') keep({ edit: 'cut', from: a, to: b });
  else keep({ edit: 'stroke', ink: tool.value === 'paint', radius: radius.value, points: list });
}
type Edit = Parameters<Finding['edit']>[0];
function done(edit: Edit): void {
  keep(edit);
  tool.value = 'none';
}
function keep(edit: Edit): void {
  points.value = [];
  at.edit(edit);
}
function choose(id: Tool): void {
  tool.value = tool.value === id ? 'none' : id;
  points.value = [];
}
const told = computed(() => TOOLS.find((t) => t.id === tool.value)?.told ?? '');
const level = computed(() => at.reading.value.level ?? 0.5);
const isSoft = computed(() => at.reading.value.level === null);
/** Levels where the number of parts is the same as at the next one are safe. */
const ladder = computed(() => shape.value?.ladder ?? []);
/** Clockwise; each number that is entered turns the picture as it is by then. */
function turnBy(field: HTMLInputElement): void {
  const degrees = Number(field.value);
  field.value = '0';
  if (degrees >= -180 && degrees <= 180 && degrees !== 0) at.edit({ edit: 'turn', degrees });
}
/** The one line there is, where there is much around it. */
const loneLine = computed(() => {
  const [line, ...others] = shape.value?.lines ?? [];
  if (!line || others.length > 0 || !shape.value) return null;
  return (line.x1 - line.x0) * (line.y1 - line.y0) < 0.4 * shape.value.width * shape.value.height ? line : null;
});
const cutOut = (l: { x0: number; y0: number; x1: number; y1: number }): void =>
  at.edit({ edit: 'crop', x0: l.x0 - 6, y0: l.y0 - 6, x1: l.x1 + 6, y1: l.y1 + 6 });
const css = (c: readonly number[]): string => `rgb(${c.map(Math.round).join(' ')})`;
/** Small pictures are shown larger. */
const shownWidth = computed(() => Math.max(shape.value?.width ?? 0, Math.min(720, 4 * (shape.value?.width ?? 0))));
/** As large as there is room, in its own proportions. */
const fitted = computed(() => ({
  width: `${shownWidth.value}px`,
  maxWidth: `min(100%, ${Math.round((46 * (shape.value?.width ?? 1)) / (shape.value?.height ?? 1))}vh)`,
}));
const stroke = computed(() => Math.max(1, (shape.value?.width ?? 600) / 500));
</script>

<template>
  <div>
    <div class="flex flex-wrap gap-2" role="toolbar" aria-label="What is done to the picture">
      <button
        v-for="t in TOOLS"
        :key="t.id"
        type="button"
        class="press-quiet !min-h-8 !px-2.5 !py-0 text-[14px]"
        :class="{ '!border-action !bg-action !text-sheet': tool === t.id }"
        :aria-pressed="tool === t.id"
        @click="choose(t.id)"
      >
        {{ t.name }}
      </button>
      <button type="button" class="press-quiet !min-h-8 !px-2.5 !py-0 text-[14px]" @click="at.edit({ edit: 'turn', degrees: 90 })">
        Quarter turn
      </button>
      <button type="button" class="press-quiet !min-h-8 !px-2.5 !py-0 text-[14px]" :disabled="!at.canUndo.value" @click="at.undo()">
        Undo
      </button>
    </div>
    <p class="note mt-2 min-h-5" aria-live="polite">
      {{ told
      }}<label v-if="tool === 'erase' || tool === 'paint'" class="ml-3 inline-flex items-center gap-2"
        >Brush, {{ radius }} px<input v-model.number="radius" type="range" min="1" max="40" class="accent-action"
      /></label>
    </p>
    <div class="relative mt-1 w-fit max-w-full border border-rule-strong" :class="{ 'cursor-crosshair': tool !== 'none' }">
      <canvas
        ref="canvas"
        class="block h-auto touch-none"
        :style="shape ? fitted : undefined"
        role="img"
        :aria-label="onlyInk ? 'The ink of the picture' : 'The picture'"
        @pointerdown="down"
        @pointermove="move"
        @pointerup="up"
      ></canvas>
      <svg
        v-if="shape"
        class="pointer-events-none absolute inset-0 h-full w-full"
        :viewBox="`0 0 ${shape.width} ${shape.height}`"
        aria-hidden="true"
      >
        <template v-if="mode === 'none' || mode === 'beside' || !overlay">
          <rect
            v-for="(l, i) in at.letters.value?.letters.filter((x) => x.box) ?? []"
            :key="i"
            :x="l.box!.x0"
            :y="l.box!.y0"
            :width="l.box!.x1 - l.box!.x0"
            :height="l.box!.y1 - l.box!.y0"
            fill="none"
            stroke="var(--action)"
            :stroke-width="stroke"
          />
        </template>
        <path v-else-if="mode === 'edges'" :d="overlay" fill="none" stroke="var(--no)" :stroke-width="stroke" />
        <path v-else :d="overlay" fill="var(--no)" :fill-opacity="mode === 'blink' ? 1 : 0.5" :class="{ blink: mode === 'blink' }" />
        <polyline
          v-if="points.length > 0 && tool !== 'crop'"
          :points="points.map((p) => p.join(',')).join(' ')"
          fill="none"
          :stroke="tool === 'erase' ? 'var(--no)' : 'var(--action)'"
          :stroke-width="tool === 'erase' || tool === 'paint' ? 2 * radius : 2 * stroke"
          stroke-linecap="round"
          stroke-opacity="0.6"
        />
        <circle
          v-for="(p, i) in tool === 'corners' || tool === 'straighten' ? points : []"
          :key="`p${i}`"
          :cx="p[0]"
          :cy="p[1]"
          :r="3 * stroke"
          fill="var(--action)"
        />
        <rect
          v-if="tool === 'crop' && points.length === 2"
          :x="Math.min(points[0]![0], points[1]![0])"
          :y="Math.min(points[0]![1], points[1]![1])"
          :width="Math.abs(points[0]![0] - points[1]![0])"
          :height="Math.abs(points[0]![1] - points[1]![1])"
          fill="var(--action)"
          fill-opacity="0.12"
          stroke="var(--action)"
          :stroke-width="stroke"
        />
      </svg>
    </div>
    <svg
      v-if="shape && overlay && mode === 'beside'"
      class="mt-1 block max-w-full border border-rule-strong"
      :style="{ ...fitted, background: css(shape.ground) }"
      :viewBox="`0 0 ${shape.width} ${shape.height}`"
      role="img"
      aria-label="The face where the picture has its letters"
    >
      <path :d="overlay" :fill="css(shape.color)" />
    </svg>
    <details v-if="shape" class="mt-2">
      <summary class="note cursor-pointer py-1">
        Ink and ground: {{ shape.parts }} {{ shape.parts === 1 ? 'part' : 'parts' }} of
        <span class="mx-0.5 inline-block size-3.5 border border-rule-strong align-[-2px]" :style="{ background: css(shape.color) }"></span>
        on
        <span class="mx-0.5 inline-block size-3.5 border border-rule-strong align-[-2px]" :style="{ background: css(shape.ground) }"></span>
      </summary>
      <div class="mt-2 flex flex-wrap items-end gap-x-6 gap-y-2">
        <label class="block"
          ><span class="note">Ink begins at {{ Math.round(level * 100) }}%{{ isSoft ? ', by itself' : '' }}</span
          ><input
            type="range"
            min="10"
            max="90"
            class="block w-44 accent-action"
            :value="Math.round(level * 100)"
            @change="at.set({ level: Number(($event.target as HTMLInputElement).value) / 100 })"
        /></label>
        <div v-if="ladder.length > 0">
          <span class="note block">Parts of ink at each level</span>
          <span class="flex gap-1"
            ><button
              v-for="l in ladder"
              :key="l.level"
              type="button"
              class="min-h-6 min-w-9 border px-1 text-[13px]"
              :class="at.reading.value.level === l.level ? 'border-action bg-action text-sheet' : 'border-rule-strong'"
              :aria-label="`${Math.round(l.level * 100)}%: ${l.parts} parts`"
              @click="at.set({ level: l.level })"
            >
              {{ l.parts }}
            </button></span
          >
        </div>
        <button v-if="at.reading.value.level !== null" type="button" class="link" @click="at.set({ level: null })">By itself</button>
        <label class="block w-24"
          ><span class="note">Specks to, px²</span
          ><input
            type="number"
            min="0"
            max="5000"
            class="field"
            :value="at.reading.value.specks"
            @change="at.set({ specks: Math.max(0, Number(($event.target as HTMLInputElement).value) || 0) })"
        /></label>
        <label class="block w-24"
          ><span class="note">Pinholes to, px²</span
          ><input
            type="number"
            min="0"
            max="5000"
            class="field"
            :value="at.reading.value.pinholes"
            @change="at.set({ pinholes: Math.max(0, Number(($event.target as HTMLInputElement).value) || 0) })"
        /></label>
        <label class="flex items-center gap-2 pb-2"><input v-model="onlyInk" type="checkbox" class="accent-action" />Ink only</label>
        <label class="block w-28"
          ><span class="note">Turn by, degrees</span
          ><input type="number" min="-180" max="180" step="0.1" class="field" value="0" @change="turnBy($event.target as HTMLInputElement)"
        /></label>
        <button
          v-if="at.reading.value.ink || at.reading.value.ground"
          type="button"
          class="link pb-2"
          @click="at.set({ ink: null, ground: null })"
        >
          Colors by themselves
        </button>
      </div>
    </details>
    <p v-if="loneLine" class="mt-1"><button type="button" class="link" @click="cutOut(loneLine)">Cut out the line</button></p>
    <p v-if="shape && shape.lines.length > 1" class="mt-2 border-l-2 border-ask bg-ask-pale px-3 py-2">
      There are {{ shape.lines.length }} lines in it; one at a time is looked for.
      <button v-for="(l, i) in shape.lines.slice(0, 6)" :key="i" type="button" class="link mr-3" @click="cutOut(l)">
        Line {{ i + 1 }}
      </button>
    </p>
  </div>
</template>

<style scoped>
@media (prefers-reduced-motion: no-preference) {
  .blink {
    animation: blink 1.2s steps(1) infinite;
  }
}
@keyframes blink {
  50% {
    opacity: 0;
  }
}
</style>
