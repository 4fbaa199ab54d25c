<script setup lang="ts">
import type { Drawing } from '@orderly-glyph/schema';
import type Plotly from 'plotly.js-basic-dist-min';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';

/** How large each drawing looks beside the others; those that stand out are named. */
const props = defineProps<{ drawings: readonly Drawing[] }>();
const emit = defineEmits<{ choose: [ids: string[]] }>();
const holder = ref<HTMLElement | null>(null);
const problem = ref('');
const sorted = computed(() => props.drawings.filter((d) => d.path !== '').sort((a, b) => a.looks - b.looks));
const outside = computed(() => sorted.value.filter((d) => d.findings.some((f) => f.code === 'size-unlike')));
const token = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
let plotly: typeof Plotly | null = null;
let gone = false;
async function draw(): Promise<void> {
  if (!holder.value || sorted.value.length < 3) return;
  try {
    plotly ??= await import('plotly.js-basic-dist-min');
  } catch {
    problem.value = 'The chart could not be loaded.';
    return;
  }
  if (gone || !holder.value) return;
  const far = new Set(outside.value.map((d) => d.id));
  await plotly.react(
    holder.value,
    [
      {
        type: 'bar',
        x: sorted.value.map((_, i) => i),
        y: sorted.value.map((d) => Math.round((d.looks - 1) * 1000) / 10),
        customdata: sorted.value.map((d) => d.name),
        marker: { color: sorted.value.map((d) => token(far.has(d.id) ? '--color-ask' : '--color-action')) },
        hovertemplate: '%{customdata}: %{y:+.0f}%<extra></extra>',
      },
    ] as never,
    {
      height: 120,
      bargap: 0.1,
      margin: { l: 36, r: 4, t: 4, b: 8 },
      paper_bgcolor: 'transparent',
      plot_bgcolor: 'transparent',
      font: { family: 'Hanken Grotesk Variable, sans-serif', size: 12, color: token('--color-ink') },
      xaxis: { visible: false, fixedrange: true },
      yaxis: { ticksuffix: '%', gridcolor: token('--color-rule'), zerolinecolor: token('--color-ink'), fixedrange: true, nticks: 4 },
      showlegend: false,
    } as never,
    { displayModeBar: false, responsive: true } as never,
  );
}
onMounted(() => void draw());
watch(sorted, () => void draw());
onBeforeUnmount(() => {
  gone = true;
  if (holder.value) plotly?.purge(holder.value);
});
</script>

<template>
  <section v-if="sorted.length >= 3" aria-label="How large they look">
    <h3>How large they look</h3>
    <p v-if="problem" class="note">{{ problem }}</p>
    <div
      ref="holder"
      role="img"
      :aria-label="`Each drawing against the usual size: ${sorted
        .map((d) => `${d.name} ${Math.round((d.looks - 1) * 100)}%`)
        .slice(0, 60)
        .join(', ')}`"
    />
    <p class="note">
      {{
        outside.length === 0
          ? 'None stands out.'
          : `${outside
              .map((d) => d.name)
              .slice(0, 6)
              .join(', ')} ${outside.length === 1 ? 'stands' : 'stand'} out.`
      }}
      <button
        v-if="outside.length > 0"
        type="button"
        class="link"
        @click="
          emit(
            'choose',
            outside.map((d) => d.id),
          )
        "
      >
        Choose {{ outside.length === 1 ? 'it' : 'them' }}
      </button>
    </p>
  </section>
</template>
