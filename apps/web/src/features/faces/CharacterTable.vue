<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import type { Characters, GlyphDetail } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call, routes, sentence } from '../../platform/api';
import DrawPad from './DrawPad.vue';
import WordChoice from '../../platform/WordChoice.vue';
import GlyphDrawing from './GlyphDrawing.vue';
import { useLibrary } from '../library/library';
import { useVoice } from '../../platform/voice';
import { featureName } from './features';
import { wholeFamily } from './live-type';
import { count } from '../../platform/words';

interface Cell {
  key: string;
  text: string;
  codePoint: number | null;
  glyph: number | null;
  feature: string | null;
  value: number;
}
type Row = { heading: string; size: number } | { cells: Cell[] };

const library = useLibrary();
const voice = useVoice();
const route = useRoute();
const router = useRouter();
const param = (name: string): string => (typeof route.query[name] === 'string' ? route.query[name] : '');
const faceId = computed(() => param('face'));
const entry = computed(() => library.faces.get(faceId.value) ?? null);
const found = ref<Characters | null>(null);
const detail = ref<GlyphDetail | null>(null);
const problem = ref('');
const family = ref('');
const search = ref(param('find'));
const showPoints = ref(true);
const collected = ref('');
const CELL = 64;
/** By block, by script or by kind of character. */
const GROUPINGS = { block: 'by block', script: 'by script', category: 'by kind' } as const;
type Grouping = keyof typeof GROUPINGS;
const grouping = computed<Grouping>(() => (param('by') in GROUPINGS ? (param('by') as Grouping) : 'block'));
/** General categories. Source: the Unicode Standard, table 4-4. */
const CATEGORIES: readonly [string, RegExp][] = [
  ['Capitals', /^[\p{Lu}\p{Lt}]$/u],
  ['Small letters', /^\p{Ll}$/u],
  ['Letters without case', /^[\p{Lo}\p{Lm}]$/u],
  ['Marks', /^\p{M}$/u],
  ['Figures and numbers', /^\p{N}$/u],
  ['Punctuation', /^\p{P}$/u],
  ['Currency signs', /^\p{Sc}$/u],
  ['Mathematical signs', /^\p{Sm}$/u],
  ['Other signs', /^\p{S}$/u],
  ['Spaces and controls', /^[\p{Z}\p{Cc}\p{Cf}]$/u],
  ['Private use', /^\p{Co}$/u],
];
const scriptTests = computed(() =>
  [...library.scriptNames].flatMap(([code, name]): [string, RegExp][] => {
    try {
      return [[name, new RegExp(`^\\p{Script=${code}}$`, 'u')]];
    } catch {
      // Ways of writing such as Hans are scripts of ISO 15924 and not of Unicode.
      return [];
    }
  }),
);
function groupsOf(codePoints: number[]): { name: string; codePoints: number[] }[] {
  const tests = grouping.value === 'category' ? CATEGORIES : scriptTests.value;
  const out = new Map<string, number[]>();
  for (const c of codePoints) {
    const text = String.fromCodePoint(c);
    const name =
      tests.find(([, test]) => test.test(text))?.[0] ?? (grouping.value === 'script' ? 'Common to several scripts' : 'Unassigned');
    const list = out.get(name);
    if (list) list.push(c);
    else out.set(name, [c]);
  }
  const place = (name: string): number => (tests.findIndex(([n]) => n === name) + tests.length + 1) % (tests.length + 1);
  return [...out].map(([name, points]) => ({ name, codePoints: points })).sort((a, b) => place(a.name) - place(b.name));
}
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
function chooseCharacter(codePoint: number): void {
  void choose({ key: `c${codePoint}`, text: String.fromCodePoint(codePoint), codePoint, glyph: null, feature: null, value: 0 });
}

async function load(): Promise<void> {
  if (!faceId.value) return;
  problem.value = '';
  try {
    const [characters, face] = await Promise.all([
      call(routes.listCharacters, { params: { faceId: faceId.value }, query: param('find') ? { q: param('find') } : {} }),
      call(routes.getFace, { params: { faceId: faceId.value } }),
    ]);
    found.value = characters;
    if (entry.value) family.value = await wholeFamily(entry.value.face, face.outlines);
  } catch (error) {
    problem.value = error instanceof DOMException ? 'This browser refuses the face, so its characters cannot be shown.' : sentence(error);
  }
}
watch([faceId, () => param('find'), () => entry.value?.face.id], () => void load(), { immediate: true });
let settle: ReturnType<typeof setTimeout> | undefined;
watch(search, (q) => {
  clearTimeout(settle);
  settle = setTimeout(() => void router.replace({ query: { ...route.query, find: q || undefined } }), 200);
});

const scroller = ref<HTMLElement | null>(null);
const width = ref(800);
const perRow = computed(() => Math.max(3, Math.floor((width.value - 48) / CELL)));
const observer = new ResizeObserver((entries) => (width.value = entries[0]!.contentRect.width));
onMounted(() => scroller.value && observer.observe(scroller.value));
watch(scroller, (el) => {
  observer.disconnect();
  if (el) observer.observe(el);
});
onBeforeUnmount(() => observer.disconnect());

const rows = computed<Row[]>(() => {
  const out: Row[] = [];
  const add = (heading: string, cells: Cell[]): void => {
    if (cells.length === 0) return;
    out.push({ heading, size: cells.length });
    for (let i = 0; i < cells.length; i += perRow.value) out.push({ cells: cells.slice(i, i + perRow.value) });
  };
  const groups = found.value?.groups ?? [];
  for (const g of grouping.value === 'block' ? groups : groupsOf(groups.flatMap((x) => x.codePoints)))
    add(
      g.name,
      g.codePoints.map((c) => ({ key: `c${c}`, text: String.fromCodePoint(c), codePoint: c, glyph: null, feature: null, value: 0 })),
    );
  const byFeature = new Map<string, Cell[]>();
  for (const v of found.value?.variants ?? [])
    byFeature.set(v.feature, [
      ...(byFeature.get(v.feature) ?? []),
      { key: `g${v.glyph}`, text: v.text, codePoint: null, glyph: v.glyph, feature: v.feature, value: v.value },
    ]);
  for (const [feature, cells] of byFeature) add(`Without a code point, through the feature ${feature}`, cells);
  return out;
});
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
function outlineAsSvg(g: GlyphDetail): string {
  const box = g.bounds ?? { xMin: 0, yMin: 0, xMax: g.advanceWidth, yMax: g.unitsPerEm };
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${box.xMin} ${-box.yMax} ${box.xMax - box.xMin} ${box.yMax - box.yMin}"><path transform="scale(1 -1)" d="${g.path}"/></svg>`;
}
const privateUse = computed(() => chosen.value !== null && chosen.value.codePoint !== null && /^\p{Co}$/u.test(chosen.value.text));
const hex = (c: number): string => c.toString(16).toUpperCase().padStart(4, '0');
const copies = computed(() => {
  const c = chosen.value;
  if (!c) return [];
  // Copying the character it stands in for would copy another glyph.
  if (c.codePoint === null)
    return [
      ...(detail.value ? [{ name: 'Outline as SVG', value: outlineAsSvg(detail.value) }] : []),
      { name: 'CSS', value: `font-feature-settings: "${c.feature}"${c.value > 1 ? ` ${c.value}` : ''};` },
    ];
  return [
    { name: 'Character', value: c.text },
    { name: 'HTML', value: `&#x${hex(c.codePoint)};` },
    { name: 'CSS', value: `\\${hex(c.codePoint)}` },
    { name: 'Code point', value: `U+${hex(c.codePoint)}` },
  ];
});
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
        <WordChoice
          class="mt-1"
          :model-value="grouping"
          :words="GROUPINGS"
          label="Grouped by"
          @update:model-value="router.replace({ query: { ...route.query, by: $event === 'block' ? undefined : $event } })"
        >
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
                @click="chooseCharacter(a.codePoint)"
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
