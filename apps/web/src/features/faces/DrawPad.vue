<script setup lang="ts">
import { onMounted, ref, watch } from 'vue';

/** A pad to draw one character on; tells the strokes after each. */
const emit = defineEmits<{ drawn: [strokes: number[][], pen: number]; cleared: [] }>();
const PEN = 14;
const pad = ref<HTMLCanvasElement | null>(null);
const strokes = ref<number[][]>([]);
let current: number[] | null = null;

function at(event: PointerEvent): [number, number] {
  const box = pad.value!.getBoundingClientRect();
  const scale = pad.value!.width / box.width;
  return [Math.round((event.clientX - box.left) * scale), Math.round((event.clientY - box.top) * scale)];
}
function begin(event: PointerEvent): void {
  pad.value!.setPointerCapture(event.pointerId);
  const [x, y] = at(event);
  // A dot is a stroke as well.
  current = [x, y, x, y];
  paint();
}
function move(event: PointerEvent): void {
  if (!current || current.length >= 3998) return;
  current.push(...at(event));
  paint();
}
function end(): void {
  if (!current) return;
  strokes.value = [...strokes.value, current].slice(-40);
  current = null;
  emit('drawn', strokes.value, PEN);
}
function clear(): void {
  strokes.value = [];
  current = null;
  emit('cleared');
}
function takeBack(): void {
  strokes.value = strokes.value.slice(0, -1);
  if (strokes.value.length > 0) emit('drawn', strokes.value, PEN);
  else emit('cleared');
}
function paint(): void {
  const context = pad.value?.getContext('2d');
  if (!context) return;
  context.clearRect(0, 0, 320, 320);
  context.lineWidth = PEN;
  context.lineCap = 'round';
  context.lineJoin = 'round';
  context.strokeStyle = getComputedStyle(pad.value!).color;
  for (const s of current ? [...strokes.value, current] : strokes.value) {
    context.beginPath();
    context.moveTo(s[0]!, s[1]!);
    for (let i = 2; i < s.length; i += 2) context.lineTo(s[i]!, s[i + 1]!);
    context.stroke();
  }
}
watch(strokes, paint);
onMounted(paint);
</script>

<template>
  <div>
    <canvas
      ref="pad"
      width="320"
      height="320"
      class="h-44 w-44 touch-none border border-rule-strong bg-sheet text-ink"
      role="img"
      aria-label="Draw the character here"
      @pointerdown="begin"
      @pointermove="move"
      @pointerup="end"
      @pointercancel="end"
    ></canvas>
    <p class="mt-1 flex gap-4">
      <button type="button" class="link text-note" :disabled="strokes.length === 0" @click="takeBack">Take the last stroke back</button>
      <button type="button" class="link text-note" :disabled="strokes.length === 0" @click="clear">Clear</button>
    </p>
  </div>
</template>
