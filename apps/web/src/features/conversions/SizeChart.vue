<script setup lang="ts">
import type Plotly from 'plotly.js-basic-dist-min';
import { onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { size } from '../../platform/words';

/** How large each face came in, and how large it is now. */
const props = defineProps<{ rows: readonly { name: string; before: number; after: number }[] }>();
const holder = ref<HTMLElement | null>(null);
const problem = ref('');
const token = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
const short = (name: string): string => (name.length > 20 ? `${name.slice(0, 19)}…` : name);

let plotly: typeof Plotly | null = null;
let gone = false;
async function draw(): Promise<void> {
  if (!holder.value || props.rows.length === 0) return;
  try {
    plotly ??= await import('plotly.js-basic-dist-min');
  } catch {
    problem.value = 'The chart could not be loaded; the sizes stand beside each face.';
    return;
  }
  if (gone || !holder.value) return;
  const rows = [...props.rows].reverse();
  // Two faces of one name are two bars.
  const names = rows.map((r, i) => `${short(r.name)}${'\u200b'.repeat(i)}`);
  const bar = (name: string, color: string, of: (r: (typeof rows)[number]) => number): object => ({
    type: 'bar',
    orientation: 'h',
    name,
    y: names,
    x: rows.map((r) => of(r) / 1024),
    text: rows.map((r) => size(of(r))),
    textposition: 'auto',
    marker: { color },
    hovertemplate: `%{y}: %{text} ${name}<extra></extra>`,
  });
  await plotly.react(
    holder.value,
    [bar('made', token('--color-action'), (r) => r.after), bar('brought in', token('--color-rule'), (r) => r.before)] as never,
    {
      barmode: 'group',
      height: 44 + rows.length * 44,
      margin: { l: 8, r: 8, t: 4, b: 28 },
      paper_bgcolor: 'transparent',
      plot_bgcolor: 'transparent',
      font: { family: 'Hanken Grotesk Variable, sans-serif', size: 12, color: token('--color-ink') },
      xaxis: { ticksuffix: ' KiB', nticks: 3, gridcolor: token('--color-rule'), fixedrange: true, rangemode: 'tozero' },
      yaxis: { type: 'category', fixedrange: true, automargin: true },
      showlegend: false,
    } as never,
    { displayModeBar: false, responsive: true } as never,
  );
}
onMounted(() => void draw());
watch(
  () => props.rows,
  () => void draw(),
);
onBeforeUnmount(() => {
  gone = true;
  if (holder.value) plotly?.purge(holder.value);
});
</script>

<template>
  <div>
    <p v-if="problem" class="note">{{ problem }}</p>
    <p v-else class="note flex gap-4" aria-hidden="true">
      <span class="flex items-center gap-1"><span class="inline-block h-3 w-3 bg-rule" />brought in</span
      ><span class="flex items-center gap-1"><span class="inline-block h-3 w-3 bg-action" />made</span>
    </p>
    <div
      ref="holder"
      role="img"
      :aria-label="`Sizes before and after: ${rows.map((r) => `${r.name} ${size(r.before)}, now ${size(r.after)}`).join('; ')}`"
    />
  </div>
</template>
