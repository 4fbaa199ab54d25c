<script setup lang="ts">
import type { FaceLine } from '../library/library';
import { watchDebounced } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { useAddress } from '../../platform/address';
import type { Face } from '@orderly-glyph/schema';
import { call, routes, sentence } from '../../platform/api';
import LiveText from './LiveText.vue';
import { useLibrary } from '../library/library';
import { useProofLine } from './proof-line';
import { useTray } from '../library/tray';

const library = useLibrary();
const tray = useTray();
const { param, several, put } = useAddress();
const ids = computed(() => (several('faces').length > 0 ? several('faces') : tray.ids).filter((id) => library.faces.has(id)).slice(0, 8));
const faces = ref<Face[]>([]);
const problem = ref('');
const proofLine = useProofLine();
const text = ref(param('text') || proofLine.text || 'Hamburgefonstiv');
const size = ref(56);
const matched = computed(() => param('match') === 'x');
const overlaid = computed(() => param('view') === 'over');
const LETTERS = ['a', 'g', 'R', 'Q', '1', '&'];

watch(
  () => ids.value.join(),
  async () => {
    problem.value = '';
    try {
      faces.value = await Promise.all(ids.value.map((id) => call(routes.getFace, { params: { faceId: id } })));
    } catch (error) {
      problem.value = sentence(error);
    }
  },
  { immediate: true },
);
watch(text, (t) => (proofLine.text = t));
watchDebounced(text, (t) => put({ text: t }), { debounce: 250 });

/** x-height as a share of the em; null where a face has none. */
const ratio = (f: Face): number | null => (f.xHeight ? f.xHeight / f.unitsPerEm : null);
/** The factor that brings a face's x-height to that of the first. */
const factor = (f: Face): number => {
  const first = faces.value.map(ratio).find((r) => r !== null);
  const own = ratio(f);
  return matched.value && first && own ? first / own : 1;
};
const line = (f: Face): FaceLine => library.faces.get(f.id)!.face;
const permille = (value: number | null, f: Face): string => (value === null ? 'none' : String(Math.round((1000 * value) / f.unitsPerEm)));
const METRICS: { name: string; of: (f: Face) => string }[] = [
  { name: 'x-height', of: (f) => permille(f.xHeight, f) },
  { name: 'Cap height', of: (f) => permille(f.capHeight, f) },
  { name: 'Ascender', of: (f) => permille(f.ascender, f) },
  { name: 'Descender', of: (f) => permille(f.descender, f) },
  { name: 'Weight class', of: (f) => String(f.weightClass) },
  { name: 'Characters', of: (f) => f.codePoints.toLocaleString('en-US') },
  { name: 'Glyphs', of: (f) => f.glyphCount.toLocaleString('en-US') },
  { name: 'Languages in full', of: (f) => String(f.coverage?.languages.filter((l) => l.level === 'full').length ?? 0) },
];
const writes = (f: Face, tag: string): string => {
  const level = f.coverage?.languages.find((l) => l.tag === tag)?.level;
  return level === 'full' ? 'yes' : level === 'near' ? 'nearly' : 'no';
};
const COLORS = ['text-action', 'text-no', 'text-yes', 'text-ask', 'text-ink', 'text-soft', 'text-action', 'text-no'];
</script>

<template>
  <div class="px-6 py-6 max-sm:px-4">
    <RouterLink to="/library" class="link text-note">Library</RouterLink>
    <h1>Compare</h1>
    <p v-if="problem" class="mt-3 text-no">{{ problem }}</p>
    <p v-else-if="library.state === 'ready' && ids.length < 2" class="mt-3">
      Pick up at least two faces in the <RouterLink class="link" to="/library">library</RouterLink>, then compare them from the tray.
    </p>
    <template v-else>
      <div class="mt-3 flex flex-wrap items-end gap-x-6 gap-y-2">
        <label class="min-w-60 flex-1"
          ><span class="note">Words</span
          ><input v-model="text" class="w-full border-b-2 border-ink bg-transparent py-1 font-serif text-[20px]" maxlength="200" dir="auto"
        /></label>
        <label class="flex items-center gap-2 pb-1"
          ><span class="note">Size</span
          ><input v-model.number="size" type="range" min="14" max="200" class="w-28 accent-action" :aria-valuetext="`${size} px`" /><span
            class="note w-12"
            >{{ size }} px</span
          ></label
        >
        <label class="flex items-center gap-2 pb-1"
          ><input type="checkbox" class="accent-action" :checked="matched" @change="put({ match: matched ? '' : 'x' })" />Same
          x-height</label
        >
        <label class="flex items-center gap-2 pb-1"
          ><input type="checkbox" class="accent-action" :checked="overlaid" @change="put({ view: overlaid ? '' : 'over' })" />Over each
          other</label
        >
      </div>
      <div v-if="overlaid" class="relative mt-5 overflow-hidden border-y border-rule" :style="{ height: `${size * 1.8}px` }">
        <p
          v-for="(f, i) in faces"
          :key="f.id"
          class="absolute inset-x-0 bottom-0 leading-none whitespace-nowrap opacity-60 mix-blend-multiply dark:mix-blend-screen"
          :class="COLORS[i]"
          :style="{ fontSize: `${size * factor(f)}px`, bottom: `${size * 0.6 - 0.35 * size * factor(f)}px`, lineHeight: '1.3' }"
        >
          <LiveText :face="line(f)" :text="text" />
        </p>
      </div>
      <ul v-if="overlaid" class="mt-2 flex flex-wrap gap-x-5">
        <li v-for="(f, i) in faces" :key="f.id" class="note" :class="COLORS[i]">
          ■ {{ f.family }} {{ f.style }}{{ matched ? `, × ${factor(f).toFixed(3)}` : '' }}
        </li>
      </ul>
      <ol v-else class="mt-5 border-t border-rule">
        <li
          v-for="f in faces"
          :key="f.id"
          class="grid grid-cols-[minmax(0,1fr)_12rem] items-end gap-4 border-b border-rule py-2 max-sm:grid-cols-1"
        >
          <p
            class="overflow-hidden whitespace-nowrap"
            :style="{ fontSize: `${size * factor(f)}px`, height: `${size * 1.6}px`, lineHeight: `${size * 1.6}px` }"
          >
            <LiveText :face="line(f)" :text="text" />
          </p>
          <p class="note">
            {{ f.family }} {{ f.style }}<br />{{ matched ? `size × ${factor(f).toFixed(3)}` : `x-height ${permille(f.xHeight, f)}` }}
          </p>
        </li>
      </ol>
      <div class="mt-6 overflow-x-auto" tabindex="0" role="region" aria-label="Letters and measures side by side">
        <table class="w-full text-left">
          <thead>
            <tr class="align-bottom">
              <th scope="col" class="note py-1 pr-4 font-normal">Thousandths of the em</th>
              <th v-for="f in faces" :key="f.id" scope="col" class="px-2 py-1 font-normal">
                {{ f.family }} <span class="note">{{ f.style }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="letter in LETTERS" :key="letter" class="border-t border-rule">
              <th scope="row" class="note pr-4 font-normal">{{ letter }}</th>
              <td v-for="f in faces" :key="f.id" class="px-2 text-[44px] leading-[60px]" :style="{ fontSize: `${44 * factor(f)}px` }">
                <LiveText :face="line(f)" :text="letter" />
              </td>
            </tr>
            <tr v-for="m in METRICS" :key="m.name" class="border-t border-rule">
              <th scope="row" class="note py-1 pr-4 font-normal">{{ m.name }}</th>
              <td v-for="f in faces" :key="f.id" class="px-2 py-1">{{ m.of(f) }}</td>
            </tr>
            <tr v-for="tag in library.ownLanguages" :key="tag" class="border-t border-rule">
              <th scope="row" class="note py-1 pr-4 font-normal">{{ library.languageNames.get(tag) ?? tag }}</th>
              <td v-for="f in faces" :key="f.id" class="px-2 py-1">
                {{ writes(f, tag) }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </div>
</template>
