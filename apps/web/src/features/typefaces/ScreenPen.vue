<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue';
import { BOX, GUIDES } from './typeface';

/** A box to draw a letter in with mouse, finger or pen; the pen has a hard edge, and grows with pressure. */
const props = defineProps<{ character: string; variant: number; busy: boolean }>();
const emit = defineEmits<{ keep: [width: number, height: number, gray: string]; leave: [] }>();
/** px an em. */
const PX = 640;
const width = Math.round(((BOX.right - BOX.left) / 1000) * PX);
const height = Math.round(((BOX.top - BOX.bottom) / 1000) * PX);
interface Stroke {
  rubs: boolean;
  points: { x: number; y: number; r: number }[];
}
const strokes = ref<Stroke[]>([]);
const undone = ref<Stroke[]>([]);
const thick = ref(60);
const rubs = ref(false);
const canvas = ref<HTMLCanvasElement | null>(null);
let drawing: Stroke | null = null;
const mark = computed(() => (/^\p{M}/u.test(props.character) ? 'o' : ''));

function paint(): void {
  const context = canvas.value?.getContext('2d');
  if (!context) return;
  context.fillStyle = '#fff';
  context.fillRect(0, 0, width, height);
  for (const s of strokes.value) {
    context.fillStyle = context.strokeStyle = s.rubs ? '#fff' : '#000';
    context.lineCap = context.lineJoin = 'round';
    s.points.forEach((p, i) => {
      const before = s.points[i - 1];
      context.beginPath();
      if (!before) {
        context.arc(p.x, p.y, p.r, 0, 2 * Math.PI);
        return context.fill();
      }
      context.lineWidth = p.r + before.r;
      context.moveTo(before.x, before.y);
      context.lineTo(p.x, p.y);
      context.stroke();
    });
  }
}
onMounted(paint);
watch(
  () => [props.character, props.variant],
  () => {
    strokes.value = [];
    undone.value = [];
    paint();
  },
);
function pointOf(event: PointerEvent): { x: number; y: number; r: number } {
  const box = canvas.value!.getBoundingClientRect();
  const pressure = event.pointerType === 'pen' && event.pressure > 0 ? 0.35 + 1.3 * event.pressure : 1;
  return {
    x: ((event.clientX - box.left) / box.width) * width,
    y: ((event.clientY - box.top) / box.height) * height,
    r: ((thick.value / 1000) * PX * pressure) / 2,
  };
}
function down(event: PointerEvent): void {
  canvas.value!.setPointerCapture(event.pointerId);
  drawing = { rubs: rubs.value, points: [pointOf(event)] };
  strokes.value.push(drawing);
  undone.value = [];
  paint();
}
function move(event: PointerEvent): void {
  if (!drawing) return;
  for (const e of event.getCoalescedEvents?.() ?? [event]) drawing.points.push(pointOf(e));
  paint();
}
const up = (): void => void (drawing = null);
function undo(): void {
  const last = strokes.value.pop();
  if (last) undone.value.push(last);
  paint();
}
function redo(): void {
  const last = undone.value.pop();
  if (last) strokes.value.push(last);
  paint();
}
function keep(): void {
  const { data } = canvas.value!.getContext('2d')!.getImageData(0, 0, width, height);
  let gray = '';
  for (let i = 0; i < data.length; i += 4) gray += String.fromCharCode(data[i]!);
  emit('keep', width, height, btoa(gray));
}
const lines = GUIDES.map((g) => ({ g, y: ((BOX.top - g) / (BOX.top - BOX.bottom)) * 100 }));
</script>

<template>
  <div>
    <div class="relative w-full border border-rule-strong bg-white" :style="{ aspectRatio: `${width} / ${height}` }">
      <canvas
        ref="canvas"
        :width="width"
        :height="height"
        class="absolute inset-0 h-full w-full cursor-crosshair touch-none"
        :aria-label="`Box for ${character}`"
        @pointerdown="down"
        @pointermove="move"
        @pointerup="up"
        @pointercancel="up"
      ></canvas>
      <div
        v-for="l in lines"
        :key="l.g"
        class="pointer-events-none absolute inset-x-0 border-t"
        :style="{ top: `${l.y}%`, borderColor: '#f5a08c', borderTopWidth: l.g === 0 ? '2px' : '1px' }"
      ></div>
      <span v-if="mark" class="pointer-events-none absolute top-1 left-2 text-[13px]" style="color: #a8271b"
        >Over an o between the lines</span
      >
    </div>
    <p class="mt-2 flex flex-wrap items-end gap-3">
      <label class="block"
        ><span class="note">Pen</span><input v-model.number="thick" type="range" min="15" max="160" class="accent-action"
      /></label>
      <label class="flex items-center gap-2"><input v-model="rubs" type="checkbox" class="accent-action" />Rub out</label>
    </p>
    <p class="mt-2 flex flex-wrap gap-2">
      <button type="button" class="press-quiet" :disabled="strokes.length === 0" @click="undo">Undo</button>
      <button type="button" class="press-quiet" :disabled="undone.length === 0" @click="redo">Redo</button>
      <button type="button" class="press" :disabled="strokes.length === 0 || busy" @click="keep">Keep it</button>
      <button type="button" class="press-quiet" @click="emit('leave')">Leave it</button>
    </p>
  </div>
</template>
