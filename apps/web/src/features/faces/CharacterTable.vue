<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { useVirtualizer } from '@tanstack/vue-virtual';
import type { GlyphDetail } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import DrawPad from './DrawPad.vue';
import WordChoice from '../../platform/WordChoice.vue';
import GlyphDrawing from './GlyphDrawing.vue';
import { useVoice } from '../../platform/voice';
import { cellOf, copiesOf, GROUPINGS, hex, type Cell } from './cells';
import { useCharacters } from './characters';
import { featureName } from './features';
import { count } from '../../platform/words';

const voice = useVoice();
const CELL = 64;
const scroller = ref<HTMLElement | null>(null);
const { width } = useElementSize(scroller);
const perRow = computed(() => Math.max(3, Math.floor(((width.value || 800) - 48) / CELL)));
const { faceId, entry, found, problem, family, search, grouping, rows } = useCharacters(perRow);
const detail = ref<GlyphDetail | null>(null);
const showPoints = ref(true);
const collected = ref('');

const drawing = ref(false);
const alike = ref<{ codePoint: number; score: number }[] | null>(null);
let drawTurn = 0;
async function findDrawn(strokes: number[][], pen: number): Promise<void> {
  const mine = ++drawTurn;
  try {
    const found = await call(routes.findDrawn, { params: { faceId: faceId.value }, body: { strokes, pen } });
    if (mine === drawTurn) alike.value = found;
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}

const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => scroller.value,
    estimateSize: (i: number) => ('heading' in rows.value[i]! ? 40 : CELL),
    overscan: 6,
  })),
);
watch(rows, () => virtual.value.measure());

const chosen = ref<Cell | null>(null);
async function choose(cell: Cell): Promise<void> {
  chosen.value = cell;
  try {
    detail.value = await call(routes.getGlyph, {
      params: { faceId: faceId.value },
      query: cell.codePoint === null ? { glyph: cell.glyph ?? 0 } : { codePoint: cell.codePoint },
    });
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}

const privateUse = computed(() => chosen.value !== null && chosen.value.codePoint !== null && /^\p{Co}$/u.test(chosen.value.text));
const copies = computed(() => (chosen.value ? copiesOf(chosen.value, detail.value) : []));
async function copy(value: string, isCharacter: boolean): Promise<void> {
  if (isCharacter) collected.value += value;
  await voice.copy(value, value.length > 80 ? 'Copied.' : `Copied: ${value}`);
}
const featureStyle = (cell: Cell): Record<string, string> => ({
  fontFamily: `"${family.value}"`,
  ...(cell.feature ? { fontFeatureSettings: `"${cell.feature}" ${cell.value}` } : {}),
});
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="flex h-full min-w-0 flex-1 flex-col max-lg:min-h-[70vh]">
      <div class="border-b border-rule px-6 pt-4 pb-3 max-sm:px-4">
        <RouterLink :to="{ path: '/library', query: { face: faceId } }" class="link text-note">Library</RouterLink>
        <div class="flex flex-wrap items-end justify-between gap-x-6">
          <h1>Characters of {{ entry ? `${entry.family.name} ${entry.face.style}` : 'this face' }}</h1>
          <label class="w-72 max-sm:w-full"
            ><span class="sr-only">Find a character</span
            ><input v-model="search" type="search" class="field" placeholder="Name, U+20AC, or the character"
          /></label>
        </div>
        <WordChoice v-model="grouping" class="mt-1" :words="GROUPINGS" label="Grouped by">
          <button
            type="button"
            class="text-note text-action hover:underline"
            :aria-expanded="drawing"
            @click="((drawing = !drawing), (alike = null))"
          >
            {{ drawing ? 'stop drawing' : 'find by drawing' }}
          </button>
        </WordChoice>
        <div v-if="drawing" class="mt-2 flex flex-wrap gap-5">
          <DrawPad @drawn="findDrawn" @cleared="alike = null" />
          <div class="min-w-0 flex-1">
            <p class="note">
              {{
                alike === null
                  ? 'Draw the character with the mouse or a finger; after each stroke the nearest ones stand here.'
                  : alike.length === 0
                    ? 'Nothing in this face looks like it.'
                    : 'Nearest first'
              }}
            </p>
            <div v-if="alike" class="mt-1 flex flex-wrap">
              <button
                v-for="a in alike.slice(0, 18)"
                :key="a.codePoint"
                type="button"
                class="h-14 w-14 border-r border-b border-rule text-[28px] leading-none hover:bg-action-pale"
                :style="{ fontFamily: `'${family}'` }"
                :aria-label="`U+${hex(a.codePoint)} ${String.fromCodePoint(a.codePoint)}`"
                @click="choose(cellOf(a.codePoint))"
              >
                {{ String.fromCodePoint(a.codePoint) }}
              </button>
            </div>
          </div>
        </div>
        <p v-if="found" class="note mt-1">
          {{ count(found.total, 'character')
          }}{{
            search
              ? ` for “${search}”`
              : `, ${count(found.variants.length, 'glyph')} more through features, ${found.unreached} that are parts of others or come by themselves`
          }}
        </p>
        <p v-if="collected" class="mt-2 flex items-baseline gap-3 border-t border-rule pt-2">
          <span class="text-[26px] leading-9" :style="{ fontFamily: `'${family}'` }">{{ collected }}</span>
          <RouterLink class="link text-note" :to="{ path: '/library', query: { face: faceId, text: collected } }"
            >Set every line in this</RouterLink
          >
          <button type="button" class="link text-note" @click="collected = ''">Clear</button>
        </p>
      </div>
      <p v-if="problem" class="p-6 text-no">{{ problem }}</p>
      <p v-else-if="!faceId" class="p-6">Choose a face in the <RouterLink class="link" to="/library">library</RouterLink> first.</p>
      <p v-else-if="!found" class="p-6 text-soft">Opening the whole face …</p>
      <p v-else-if="rows.length === 0" class="p-6">It has no such character. Try a word of its name, such as “arrow”.</p>
      <div v-show="rows.length > 0" ref="scroller" class="min-h-0 flex-1 overflow-y-auto">
        <div class="relative" :style="{ height: `${virtual.getTotalSize()}px` }">
          <div
            v-for="row in virtual.getVirtualItems()"
            :key="String(row.key)"
            class="absolute inset-x-0 top-0 px-6 max-sm:px-4"
            :style="{ height: `${row.size}px`, transform: `translateY(${row.start}px)` }"
          >
            <h2 v-if="'heading' in rows[row.index]!" class="flex items-baseline gap-3 pt-3 text-[17px]">
              {{ (rows[row.index] as { heading: string }).heading }}
              <span class="note font-sans">{{ (rows[row.index] as { size: number }).size }}</span>
            </h2>
            <div v-else class="flex">
              <button
                v-for="cell in (rows[row.index] as { cells: Cell[] }).cells"
                :key="cell.key"
                type="button"
                class="flex h-16 w-16 items-center justify-center overflow-hidden border-r border-b border-rule text-[30px] leading-none -outline-offset-2 hover:bg-action-pale"
                :class="{ 'bg-action-pale': cell.key === chosen?.key }"
                :style="featureStyle(cell)"
                :aria-label="cell.codePoint === null ? `${cell.text}, feature ${cell.feature}` : `U+${hex(cell.codePoint)} ${cell.text}`"
                @click="choose(cell)"
              >
                {{ cell.text }}
              </button>
            </div>
          </div>
        </div>
      </div>
    </div>
    <aside
      aria-label="About the chosen character"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-4 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <template v-if="chosen && detail">
        <h2 class="text-[18px] break-words">{{ detail.name ?? `Glyph ${detail.glyph}` }}</h2>
        <p class="note">
          {{
            detail.codePoint === null
              ? `No code point; “${chosen.text}” with the feature ${chosen.feature}`
              : `U+${hex(detail.codePoint)}, ${detail.block ?? ''}`
          }}
        </p>
        <GlyphDrawing class="mt-3" :glyph="detail" :points="showPoints" />
        <label class="mt-1 flex items-center gap-2 text-note"
          ><input v-model="showPoints" type="checkbox" class="accent-action" />Points</label
        >
        <h3 class="mt-3">Copy</h3>
        <ul class="mt-1 flex flex-col gap-1">
          <li v-for="c in copies" :key="c.name" class="flex items-center justify-between gap-3">
            <span class="note">{{ c.name }}</span><span class="code min-w-0 flex-1 truncate text-right">{{
              c.name === 'Character' || c.value.length > 80 ? '' : c.value
            }}</span>
            <button type="button" class="press-quiet min-h-0 px-2 py-0.5" @click="copy(c.value, c.name === 'Character')">
              Copy<span class="sr-only"> as {{ c.name }}</span>
            </button>
          </li>
        </ul>
        <p v-if="chosen.codePoint === null" class="note mt-2">
          It has no code point, so it cannot be copied as a character: “{{ chosen.text }}” would be copied, which is another glyph. Copy its
          outline, or set “{{ chosen.text }}” with the feature switched on.
        </p>
        <p v-if="privateUse" class="mt-3 border-l-4 border-ask bg-ask-pale px-3 py-2 text-note">
          A private character: it means nothing outside this face. To get it into a program that has no table of characters: set the face
          there first, then copy the character here and paste it. In HTML write the code above; in a style sheet write the CSS form as
          content. Set in another face it shows as a box, so do not use it in names, search words or messages.
        </p>
        <h3 class="mt-3">Metrics</h3>
        <dl class="mt-1 grid grid-cols-[9rem_1fr] gap-y-1 text-note">
          <dt class="text-soft">Advance width</dt>
          <dd>{{ detail.advanceWidth }} of {{ detail.unitsPerEm }}</dd>
          <dt class="text-soft">Left side bearing</dt>
          <dd>{{ detail.leftSideBearing ?? 'none' }}</dd>
          <dt class="text-soft">Right side bearing</dt>
          <dd>{{ detail.rightSideBearing ?? 'none' }}</dd>
          <dt class="text-soft">Height</dt>
          <dd>{{ detail.bounds ? `${Math.round(detail.bounds.yMin)} to ${Math.round(detail.bounds.yMax)}` : 'empty' }}</dd>
          <dt class="text-soft">Points</dt>
          <dd>{{ detail.points.length }}</dd>
          <dt class="text-soft">Glyph number</dt>
          <dd>{{ detail.glyph }}</dd>
        </dl>
        <template v-if="detail.kerning.before.length + detail.kerning.after.length > 0">
          <h3 class="mt-3">Kerning</h3>
          <p class="note">With its neighbors, in font units; strongest first.</p>
          <div class="mt-1 grid grid-cols-2 gap-x-4">
            <ul v-for="side in ['before', 'after'] as const" :key="side">
              <li v-for="k in detail.kerning[side].slice(0, 12)" :key="k.codePoint" class="flex items-baseline justify-between">
                <span class="text-[20px]" :style="{ fontFamily: `'${family}'` }">{{
                  side === 'before' ? String.fromCodePoint(k.codePoint) + chosen.text : chosen.text + String.fromCodePoint(k.codePoint)
                }}</span>
                <span class="note">{{ k.value > 0 ? `+${k.value}` : k.value }}</span>
              </li>
            </ul>
          </div>
        </template>
        <template v-if="detail.reachedBy.length + detail.changedBy.length > 0">
          <h3 class="mt-3">Features</h3>
          <p v-for="r in detail.reachedBy.slice(0, 12)" :key="r.feature + r.text" class="text-note">
            {{ featureName(r.feature) }} (<span class="code">{{ r.feature }}</span
            >) {{ r.text ? `puts it in place of ${r.text}` : 'leads to it' }}.
          </p>
          <p v-if="detail.changedBy.length > 0" class="text-note">Changed by {{ detail.changedBy.map(featureName).join(', ') }}.</p>
        </template>
      </template>
      <p v-else class="text-soft">Choose a character. Its outline, its measures and ways to copy it stand here.</p>
    </aside>
  </div>
</template>
