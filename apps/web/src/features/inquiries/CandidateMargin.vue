<script setup lang="ts">
import { routes, USE_WORDS, type Answer } from '@orderly-glyph/schema';
import { computed, ref, shallowRef, watch } from 'vue';
import { call, sentence } from '../../platform/api';
import { list, money } from '../../platform/words';
import { useLibrary } from '../library/library';
import VerdictMark from '../licenses/VerdictMark.vue';
import type { Finding, Use } from './finding';
import { laid, SURE } from './words';

/** What is on record about the face that is chosen, and what to do with it. */
const props = defineProps<{ at: Finding; index: number; use: Use }>();
const library = useLibrary();
const candidate = computed(() => props.at.answer.value?.families[props.index] ?? null);
const entry = computed(() => (candidate.value ? (library.faces.get(candidate.value.faceId) ?? null) : null));
const sure = computed(() => {
  const { first, other } = SURE[props.at.answer.value?.sureness ?? 'none'];
  return props.index === 0 ? first : other;
});
const verdict = computed(
  () =>
    entry.value &&
    (entry.value.family.groups.find((g) => g.faceIds.includes(entry.value!.face.id))?.verdicts[props.use] ??
      entry.value.family.verdicts[props.use]),
);
type Details = Answer<typeof routes.describeCandidates>[number];
const details = shallowRef<Map<string, Details>>(new Map());
const problem = ref('');
watch(
  () => props.at.answer.value,
  async (answer) => {
    details.value = new Map();
    problem.value = '';
    if (!answer || answer.families.length === 0) return;
    try {
      const found = await call(routes.describeCandidates, { body: { faceIds: answer.families.map((f) => f.faceId) } });
      details.value = new Map(found.map((d) => [d.faceId, d]));
    } catch (error) {
      problem.value = sentence(error);
    }
  },
  { immediate: true },
);
const own = computed(() => (candidate.value ? (details.value.get(candidate.value.faceId) ?? null) : null));
const KINDS: Record<string, string> = { open: 'open', paid: 'paid', own: 'made here' };
const nameOf = (faceId: string): string => {
  const e = library.faces.get(faceId);
  return e ? `${e.family.name} ${e.face.style}` : '';
};
const worst = computed(() => (candidate.value?.differs ?? []).slice(0, 3).map((d) => String.fromCodePoint(d.codePoint)));
const siblings = computed(() =>
  [...new Set((candidate.value?.siblings ?? []).map(nameOf).filter((n) => n !== '' && n !== nameOf(candidate.value!.faceId)))].slice(0, 4),
);

/** New words in the face, as large and in the colors that the picture has. */
const words = ref('');
const set = ref<{ path: string; box: [number, number, number, number]; ink: [number, number]; missing: string[] } | null>(null);
let turn = 0;
watch([words, () => candidate.value?.faceId], async () => {
  const turnNow = ++turn;
  set.value = null;
  if (words.value.trim() === '' || !candidate.value) return;
  await new Promise((wake) => setTimeout(wake, 250));
  if (turnNow !== turn || !candidate.value) return;
  try {
    const [one] = await call(routes.shapeWords, { body: { text: words.value, faceIds: [candidate.value.faceId] } });
    if (turnNow !== turn || !one) return;
    const heights = one.polygons.flatMap((p) => p.filter((_, i) => i % 2 === 1).map((y) => -y));
    set.value = { ...one, ink: [Math.min(0, ...heights.slice(0, 50_000)), Math.max(0, ...heights.slice(0, 50_000))] };
  } catch (error) {
    problem.value = sentence(error);
  }
});
const css = (c: readonly number[] | undefined): string => (c ? `rgb(${c.map(Math.round).join(' ')})` : '');
const colors = computed(() => ({ ink: css(props.at.prepared.value?.color), ground: css(props.at.prepared.value?.ground) }));
const scale = computed(() => candidate.value?.scale ?? 0.05);
/** The words' ink box with a little ground around it, thousandths of the em. */
const view = computed(() => {
  const [x0, , x1] = set.value?.box ?? [0, 0, 1000, 1000];
  const [top, bottom] = set.value?.ink ?? [0, 1000];
  return { x: x0 - 80, y: top - 120, width: x1 - x0 + 160, height: bottom - top + 240 };
});
const size = computed(() => ({
  width: Math.round(view.value.width * scale.value * (candidate.value?.stretch ?? 1)),
  height: Math.round(view.value.height * scale.value),
}));
</script>

<template>
  <section v-if="candidate && entry">
    <h2>{{ entry.family.name }} {{ entry.face.style }}</h2>
    <p class="mt-1 first-letter:uppercase">{{ sure }}</p>
    <p class="mt-1">
      <VerdictMark v-if="verdict" :answer="verdict" :label="USE_WORDS[use].label" />
    </p>
    <p v-if="problem" role="alert" class="mt-2 text-no">{{ problem }}</p>
    <template v-if="own">
      <p v-if="own.licenses.length === 0" class="mt-2 text-ask">No license is on record for it.</p>
      <ul v-else class="mt-2">
        <li v-for="l in own.licenses" :key="l.id" class="border-t border-rule py-1">
          {{ l.name
          }}<span class="note block"
            >{{ KINDS[l.kind] ?? l.kind }}{{ l.grantor ? `, from ${l.grantor}` : ''
            }}{{ l.price !== null && l.currency ? `, ${money(l.price, l.currency)}` : ', no price on record'
            }}{{ l.confirmed ? '' : ', not confirmed' }}</span
          >
        </li>
      </ul>
      <p v-if="own.cousins.length > 0" class="mt-2">
        Decorated cousins:
        {{
          list(
            own.cousins.map((c) => c.name),
            4,
          )
        }}
      </p>
    </template>
    <p v-if="laid(candidate)" class="mt-2 text-ask">It {{ laid(candidate) }}.</p>
    <p v-if="siblings.length > 0" class="mt-2">Near as well: {{ siblings.join(', ') }}</p>
    <p v-if="worst.length > 0" class="mt-2">
      Letters that differ most: <b>{{ worst.join(' ') }}</b>
    </p>
    <p class="mt-2"><RouterLink class="link" :to="`/library/${entry.family.id}`">See the family</RouterLink></p>
    <label class="mt-4 block"
      ><span class="note">Set other words as the picture has them</span><input v-model="words" class="field" maxlength="120"
    /></label>
    <div v-if="set" class="mt-2 overflow-x-auto" :style="{ background: colors.ground }">
      <svg
        :viewBox="`${view.x} ${view.y} ${view.width} ${view.height}`"
        :width="size.width"
        :height="size.height"
        class="block"
        preserveAspectRatio="none"
        role="img"
        :aria-label="words"
      >
        <path :d="set.path" :fill="colors.ink" />
      </svg>
    </div>
    <p v-if="set && set.missing.length > 0" class="mt-1 text-no">It has no {{ set.missing.join(' ') }}.</p>
  </section>
</template>
