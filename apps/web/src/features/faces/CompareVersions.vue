<script setup lang="ts">
import type { Face, GlyphDetail, VersionChanges } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { useAddress } from '../../platform/address';
import { call, routes, sentence } from '../../platform/api';
import { loadWhole } from './live-type';
import { count } from '../../platform/words';

const { param } = useAddress();
const faces = ref<{ older: Face; newer: Face } | null>(null);
const changes = ref<VersionChanges | null>(null);
const family = ref({ older: '', newer: '' });
const problem = ref('');
const chosen = ref<number | null>(null);
const glyphs = ref<{ older: GlyphDetail; newer: GlyphDetail } | null>(null);
const MOST = 600;

watch(
  [() => param('older'), () => param('newer')],
  async ([older, newer]) => {
    if (!older || !newer) return;
    try {
      const [a, b, c] = await Promise.all([
        call(routes.getFace, { params: { faceId: older } }),
        call(routes.getFace, { params: { faceId: newer } }),
        call(routes.getVersionChanges, { params: { faceId: older }, query: { newer } }),
      ]);
      faces.value = { older: a, newer: b };
      changes.value = c;
      const [x, y] = await Promise.all([loadWhole(a), loadWhole(b)]);
      family.value = { older: x, newer: y };
      if (c.changed[0]) void choose(c.changed[0].codePoint);
    } catch (error) {
      problem.value =
        error instanceof DOMException ? 'This browser refuses one of the two faces, so they cannot be drawn.' : sentence(error);
    }
  },
  { immediate: true },
);

async function choose(codePoint: number): Promise<void> {
  chosen.value = codePoint;
  try {
    const [older, newer] = await Promise.all(
      [param('older'), param('newer')].map((faceId) => call(routes.getGlyph, { params: { faceId }, query: { codePoint } })),
    );
    if (chosen.value === codePoint) glyphs.value = { older: older!, newer: newer! };
  } catch (error) {
    problem.value = sentence(error);
  }
}

/** Both outlines in thousandths of the em, so that versions with another em fit over each other. */
const scaled = computed(() => {
  const g = glyphs.value;
  if (!g) return null;
  const of = (d: GlyphDetail): { scale: number; advance: number } => ({
    scale: 1000 / d.unitsPerEm,
    advance: (d.advanceWidth * 1000) / d.unitsPerEm,
  });
  const [older, newer] = [of(g.older), of(g.newer)];
  const edges = [g.older, g.newer].flatMap((d) =>
    d.bounds ? [(d.bounds.yMax * 1000) / d.unitsPerEm, (d.bounds.yMin * 1000) / d.unitsPerEm] : [],
  );
  const top = Math.max(750, ...edges) + 60;
  const bottom = Math.min(0, ...edges) - 60;
  return { older, newer, box: `-60 ${-top} ${Math.max(older.advance, newer.advance) + 120} ${top - bottom}` };
});
const hex = (c: number): string => `U+${c.toString(16).toUpperCase().padStart(4, '0')}`;
/** Below this nobody sees a difference at reading sizes. */
const TO_THE_EYE = 0.03;
const lists = computed(() => {
  const c = changes.value;
  if (!c) return [];
  const shape = c.changed.filter((x) => x.difference >= TO_THE_EYE).map((x) => x.codePoint);
  const points = c.changed.filter((x) => x.difference < TO_THE_EYE).map((x) => x.codePoint);
  return [
    { name: 'Changed in shape or width', count: shape.length, points: shape, both: true },
    { name: 'New', count: c.counts.added, points: c.added, both: false },
    { name: 'Gone', count: c.counts.removed, points: c.removed, both: false },
    { name: 'Drawn with other points, the same to the eye', count: c.counts.changed - shape.length, points, both: true },
  ].filter((l) => l.count > 0);
});
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4" tabindex="0" role="region" aria-label="Changed characters">
      <RouterLink class="link text-note" :to="{ path: '/library', query: { face: param('newer') } }">Library</RouterLink>
      <h1>Two versions of a face</h1>
      <p v-if="problem" class="mt-3 text-no">{{ problem }}</p>
      <p v-else-if="!changes" class="mt-3 text-soft">Comparing every outline …</p>
      <template v-if="changes && faces">
        <p class="mt-2">
          <span class="text-no">{{ faces.older.family }} {{ faces.older.style }}, {{ faces.older.version ?? 'no version' }}</span> and
          <span class="text-action">{{ faces.newer.family }} {{ faces.newer.style }}, {{ faces.newer.version ?? 'no version' }}</span
          >. {{ count(changes.counts.same, 'character is', 'characters are') }} drawn the same.
        </p>
        <p v-if="lists.length === 0" class="mt-3">Nothing that is drawn differs; what changed is in names, metrics or features.</p>
        <section v-for="l in lists" :key="l.name" class="mt-5">
          <h2>
            {{ l.name }} <span class="note font-sans">{{ l.count.toLocaleString('en-US') }}</span>
          </h2>
          <div class="mt-2 flex flex-wrap">
            <component
              :is="l.both ? 'button' : 'span'"
              v-for="c in l.points.slice(0, MOST)"
              :key="c"
              :type="l.both ? 'button' : undefined"
              class="relative h-16 w-16 border-r border-b border-rule text-center text-[36px] leading-[64px] -outline-offset-2"
              :class="{ 'bg-action-pale': c === chosen && l.both }"
              :aria-label="l.both ? `${hex(c)} ${String.fromCodePoint(c)}` : undefined"
              :title="hex(c)"
              @click="l.both && choose(c)"
            >
              <span
                v-if="l.name !== 'New'"
                class="absolute inset-0 text-no before:content-[attr(data-character)]"
                :class="{ 'opacity-60': l.both }"
                :style="{ fontFamily: `'${family.older}'` }"
                :data-character="String.fromCodePoint(c)"
                aria-hidden="true"
              ></span>
              <span
                v-if="l.name !== 'Gone'"
                class="absolute inset-0 text-action before:content-[attr(data-character)]"
                :class="{ 'opacity-60': l.both }"
                :style="{ fontFamily: `'${family.newer}'` }"
                :data-character="String.fromCodePoint(c)"
                aria-hidden="true"
              ></span>
            </component>
          </div>
          <p v-if="l.count > MOST" class="note mt-1">The first {{ MOST }} are shown.</p>
        </section>
      </template>
    </div>
    <aside
      aria-label="The chosen character"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-6 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <template v-if="glyphs && scaled">
        <h2 class="text-[18px] break-words">{{ glyphs.newer.name }}</h2>
        <p class="note">{{ chosen === null ? '' : hex(chosen) }}</p>
        <svg
          :viewBox="scaled.box"
          class="mt-3 h-72 w-full border border-rule"
          role="img"
          :aria-label="`Both outlines of ${glyphs.newer.name}`"
        >
          <line x1="-4000" x2="4000" y1="0" y2="0" class="stroke-rule-strong" vector-effect="non-scaling-stroke" />
          <path
            :d="glyphs.older.path"
            :transform="`scale(${scaled.older.scale} ${-scaled.older.scale})`"
            class="fill-no"
            fill-opacity="0.55"
          />
          <path
            :d="glyphs.newer.path"
            :transform="`scale(${scaled.newer.scale} ${-scaled.newer.scale})`"
            class="fill-action"
            fill-opacity="0.55"
          />
        </svg>
        <dl class="mt-3 grid grid-cols-[7rem_1fr_1fr] gap-y-1 text-note">
          <dt></dt>
          <dd class="text-no">older</dd>
          <dd class="text-action">newer</dd>
          <dt class="text-soft">Advance width</dt>
          <dd>{{ Math.round(scaled.older.advance) }}</dd>
          <dd>{{ Math.round(scaled.newer.advance) }}</dd>
          <dt class="text-soft">Points</dt>
          <dd>{{ glyphs.older.points.length }}</dd>
          <dd>{{ glyphs.newer.points.length }}</dd>
        </dl>
        <p class="note mt-2">In thousandths of the em.</p>
      </template>
      <p v-else class="text-soft">Choose a character to see both outlines over each other.</p>
    </aside>
  </div>
</template>
