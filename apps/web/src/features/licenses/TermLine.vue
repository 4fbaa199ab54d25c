<script setup lang="ts">
import type Plotly from 'plotly.js-basic-dist-min';
import type { License } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { when } from '../../platform/words';

/** The terms of licenses as lines over time. The same is told in words beside it; a press on a line opens its license. */
const props = defineProps<{ licenses: readonly License[] }>();
const router = useRouter();
const holder = ref<HTMLElement | null>(null);
const problem = ref('');
const DAY = 86_400_000;
const today = new Date().toLocaleDateString('sv-SE');
const dated = computed(() =>
  props.licenses
    .filter((l) => l.endsOn !== null)
    .sort((a, b) => (a.endsOn! < b.endsOn! ? -1 : 1))
    .slice(0, 40),
);
const token = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
const shift = (day: string, days: number): string => new Date(Date.parse(day) + days * DAY).toISOString().slice(0, 10);
const short = (name: string): string => (name.length > 34 ? `${name.slice(0, 33)}…` : name);

let plotly: typeof Plotly | null = null;
let gone = false;
async function draw(): Promise<void> {
  if (!holder.value || dated.value.length === 0) return;
  try {
    plotly ??= await import('plotly.js-basic-dist-min');
  } catch {
    problem.value = 'The drawing could not be loaded; the days stand below.';
    return;
  }
  if (gone || !holder.value) return;
  const first = dated.value.map((l) => l.startsOn ?? today).sort()[0]!;
  const from = first < shift(today, -365) ? shift(today, -365) : shift(first < today ? first : today, -14);
  const last = dated.value.at(-1)!.endsOn!;
  const until = shift(last > today ? last : today, 45);
  const state = (l: License): 'over' | 'near' | 'runs' =>
    l.endsOn! < today ? 'over' : (l.noticeOn ?? shift(l.endsOn!, -30)) <= today ? 'near' : 'runs';
  const color = { over: token('--color-no'), near: token('--color-ask'), runs: token('--color-yes') };
  const word = { over: 'ended', near: 'ends soon', runs: 'runs' };
  const line = (l: License): object => {
    const begin = l.startsOn && l.startsOn > from ? l.startsOn : from;
    const name = short(l.name);
    return {
      type: 'scatter',
      mode: 'lines+markers',
      x: [begin, l.endsOn!],
      y: [name, name],
      line: { color: color[state(l)], width: 5, dash: state(l) === 'over' ? 'dot' : 'solid' },
      marker: {
        opacity: 1,
        line: { width: 0 },
        size: [l.startsOn && l.startsOn > from ? 9 : 0, 11],
        symbol: ['circle', state(l) === 'runs' ? 'circle' : state(l) === 'near' ? 'triangle-up' : 'square'],
        color: color[state(l)],
      },
      hovertemplate: `${name}: ${word[state(l)]}, until ${when(l.endsOn!)}<extra></extra>`,
      customdata: [l.id, l.id],
      showlegend: false,
    };
  };
  await plotly.react(
    holder.value,
    [...dated.value].reverse().map(line) as never,
    {
      height: 64 + dated.value.length * 30,
      margin: { l: 240, r: 16, t: 8, b: 32 },
      paper_bgcolor: 'transparent',
      plot_bgcolor: 'transparent',
      font: { family: 'Hanken Grotesk Variable, sans-serif', size: 13, color: token('--color-ink') },
      xaxis: { type: 'date', range: [from, until], gridcolor: token('--color-rule'), fixedrange: true, tickformat: '%b %Y' },
      yaxis: { type: 'category', gridcolor: token('--color-rule'), fixedrange: true, ticklabelposition: 'outside', automargin: false },
      shapes: [
        { type: 'line', x0: today, x1: today, yref: 'paper', y0: 0, y1: 1, line: { color: token('--color-ink'), width: 1, dash: 'dash' } },
      ],
      annotations: [{ x: today, yref: 'paper', y: 1, text: 'today', showarrow: false, xanchor: 'left', xshift: 4, font: { size: 12 } }],
    } as never,
    { displayModeBar: false, responsive: true } as never,
  );
  const element = holder.value as unknown as {
    removeAllListeners?: (name: string) => void;
    on: (name: string, run: (event: { points: { customdata: string }[] }) => void) => void;
  };
  element.removeAllListeners?.('plotly_click');
  element.on('plotly_click', (event) => {
    const id = event.points[0]?.customdata;
    if (id) void router.push(`/licenses/${id}`);
  });
}
const scheme = matchMedia('(prefers-color-scheme: dark)');
const redraw = (): void => void draw();
onMounted(() => {
  scheme.addEventListener('change', redraw);
  void draw();
});
watch(dated, () => void draw());
onBeforeUnmount(() => {
  gone = true;
  scheme.removeEventListener('change', redraw);
  if (holder.value) plotly?.purge(holder.value);
});
</script>

<template>
  <p v-if="problem" class="note">{{ problem }}</p>
  <div
    v-show="dated.length > 0"
    ref="holder"
    role="img"
    :aria-label="`Terms of ${dated.length} licenses over time; the days stand in the list below`"
  ></div>
</template>
