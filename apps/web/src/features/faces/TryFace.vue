<script setup lang="ts">
import { watchDebounced } from '@vueuse/core';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import type { Color } from '@orderly-glyph/schema';
import { useAddress, useFace } from '../../platform/address';
import { call, routes, sentence } from '../../platform/api';
import LiveText from './LiveText.vue';
import ProofLine from './ProofLine.vue';
import { useLibrary } from '../library/library';
import { useProofLine } from './proof-line';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import { contrast } from '@orderly-glyph/schema';
import { DEFAULT_ON, featureName, spacingWarnings, switchable } from './features';

const library = useLibrary();
const session = useSession();
const voice = useVoice();
const { param, put } = useAddress();

const faceId = computed(() => param('face'));
const entry = computed(() => library.faces.get(faceId.value) ?? null);
const proofLine = useProofLine();
const text = ref(param('text') || proofLine.text);
watch(text, (words) => (proofLine.text = words));
const size = ref(Math.min(300, Math.max(10, Number(param('size')) || 64)));
const VIEWS = { line: 'A line', sizes: 'Sizes', paragraph: 'Running text', figures: 'Figures', colors: 'Colors' } as const;
type View = keyof typeof VIEWS;
const view = computed<View>(() => (param('view') in VIEWS ? (param('view') as View) : 'line'));

const { face, problem } = useFace(() => faceId.value);
watchDebounced([text, size], () => put({ text: text.value, size: size.value === 64 ? '' : String(size.value) }), { debounce: 250 });

/** Switched features as "smcp" or "liga-0", and axes as "wght-500", both joined by commas in the address. */
const features = computed(
  () =>
    new Map(
      param('on')
        .split(',')
        .filter(Boolean)
        .map((f): [string, number] => [f.slice(0, 4), f.endsWith('-0') ? 0 : 1]),
    ),
);
const isOn = (tag: string): boolean => (features.value.get(tag) ?? (DEFAULT_ON.has(tag) ? 1 : 0)) === 1;
function toggle(tag: string): void {
  const next = new Map(features.value);
  const on = !isOn(tag);
  // Figures are lining or old-style, of equal width or not: one replaces the other.
  const rivals: Record<string, string> = { lnum: 'onum', onum: 'lnum', tnum: 'pnum', pnum: 'tnum' };
  if (on && rivals[tag]) next.delete(rivals[tag]);
  if (on === DEFAULT_ON.has(tag)) next.delete(tag);
  else next.set(tag, on ? 1 : 0);
  put({ on: [...next].map(([t, v]) => (v === 0 ? `${t}-0` : t)).join(',') });
}
const axes = computed(
  () =>
    new Map(
      param('at')
        .split(',')
        .filter(Boolean)
        .map((a): [string, number] => [a.slice(0, 4), Number(a.slice(5))]),
    ),
);
const axisValue = (tag: string): number => axes.value.get(tag) ?? face.value?.axes.find((a) => a.tag === tag)?.default ?? 0;
function setAxes(values: readonly [string, number][]): void {
  const next = new Map(axes.value);
  for (const [tag, value] of values) {
    if (value === face.value?.axes.find((a) => a.tag === tag)?.default) next.delete(tag);
    else next.set(tag, value);
  }
  put({ at: [...next].map(([t, v]) => `${t}-${v}`).join(',') });
}
const instanceOn = (coordinates: readonly number[]): boolean => face.value!.axes.every((a, i) => axisValue(a.tag) === coordinates[i]);

const capitals = computed(() => param('capitals') === 'yes');
const spacing = computed(() => Math.min(500, Math.max(-100, Number(param('spacing')) || 0)));
const language = computed(() => library.readyTexts.find((t) => t.text === text.value)?.language ?? '');
const said = computed(() => text.value.trim() || entry.value?.family.name || 'Hamburgefonstiv');
const shownText = computed(() => (capitals.value ? said.value.toLocaleUpperCase(language.value || undefined) : said.value));
const warnings = computed(() => spacingWarnings(said.value, spacing.value, capitals.value, entry.value?.family.kind === 'handwriting'));
const setting = computed(() => ({
  fontFeatureSettings: [...features.value].map(([t, v]) => `"${t}" ${v}`).join(', ') || 'normal',
  // Every axis is stated, or the browser would choose the optical size by itself and the slider would not be true.
  fontVariationSettings: face.value?.axes.map((a) => `"${a.tag}" ${axisValue(a.tag)}`).join(', ') || 'normal',
  letterSpacing: `${spacing.value / 1000}em`,
}));
const SIZES = [96, 72, 54, 40, 30, 24, 20, 17, 15, 13, 12, 11, 10];
const running = computed(() => {
  // The words typed; those of a ready text go on with what else is ready in its language.
  const typed = text.value.trim();
  const ready = library.readyTexts.filter((t) => t.language === (language.value || 'en')).map((t) => t.text);
  const base = typed !== '' && language.value === '' ? typed : ready.join(' ') || said.value;
  return `${Array(Math.max(1, Math.ceil(420 / base.length)))
    .fill(base)
    .join(' ')}`;
});

// A price that counts shows whether figures keep their places.
const price = ref(178);
const moving = ref(!matchMedia('(prefers-reduced-motion: reduce)').matches);
const timer = setInterval(() => {
  if (moving.value && view.value === 'figures') price.value += 37;
}, 700);
onBeforeUnmount(() => clearInterval(timer));
const money = (n: number): string => `${Math.floor(n / 100).toLocaleString('en-US')}.${String(n % 100).padStart(2, '0')}`;
const prices = computed(() => [`£${money(price.value)}`, `£${money(price.value * 7 + 11)}`, `£${money(price.value * 31 + 5)}`]);
const FIGURES = ['lnum', 'onum', 'tnum', 'pnum', 'frac', 'zero'];

const palette = ref<Color[]>([]);
onMounted(() => (palette.value = library.shelf.palette.map((c) => ({ ...c }))));
watch(
  () => library.shelf.palette,
  (next) => (palette.value = next.map((c) => ({ ...c }))),
);
const grounds = computed(() => [...library.shelf.palette, { name: 'White', hex: '#ffffff' }, { name: 'Black', hex: '#000000' }]);
async function savePalette(): Promise<void> {
  try {
    library.shelf.palette = await call(routes.setPalette, { body: palette.value });
    voice.say('The colors are kept for the whole workspace.');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const PAIRS_SHOWN = 24;
const pairs = computed(() =>
  grounds.value
    .flatMap((ink) => grounds.value.filter((g) => g.hex !== ink.hex).map((paper) => ({ ink, paper, ratio: contrast(ink.hex, paper.hex) })))
    .filter((p) => p.ratio >= 2)
    .sort((a, b) => b.ratio - a.ratio)
    .slice(0, PAIRS_SHOWN),
);
const grade = (ratio: number): string => (ratio >= 4.5 ? 'any size' : ratio >= 3 ? 'large type only' : 'too faint to read');
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="flex h-full min-w-0 flex-1 flex-col max-lg:min-h-[70vh]">
      <div class="border-b border-rule px-6 pt-4 pb-3 max-sm:px-4">
        <RouterLink :to="{ path: '/library', query: { face: faceId } }" class="link text-note">Library</RouterLink>
        <h1 class="truncate">{{ entry ? `${entry.family.name} ${entry.face.style}` : 'Try a face' }}</h1>
        <ProofLine v-model:text="text" v-model:size="size" :texts="library.readyTexts" says="Set in this face" />
        <div class="mt-3 flex flex-wrap gap-2" role="group" aria-label="How to look at it">
          <button
            v-for="(word, key) in VIEWS"
            :key="key"
            type="button"
            class="border-b-2 px-1 py-0.5"
            :class="view === key ? 'border-ink font-semibold' : 'border-transparent text-action'"
            :aria-pressed="view === key"
            @click="put({ view: key === 'line' ? '' : key })"
          >
            {{ word }}
          </button>
        </div>
      </div>
      <p v-for="w in warnings" :key="w" class="border-b border-rule border-l-4 border-l-ask bg-ask-pale px-6 py-2 max-sm:px-4">{{ w }}</p>
      <p v-if="problem" class="p-6 text-no">{{ problem }}</p>
      <p v-else-if="!faceId || (library.state === 'ready' && !entry)" class="p-6">
        Choose a face in the <RouterLink class="link" to="/library">library</RouterLink> first.
      </p>
      <div v-else-if="entry" class="min-h-0 flex-1 overflow-auto p-6 max-sm:p-4" tabindex="0" role="region" :aria-label="VIEWS[view]">
        <div :style="setting" :lang="language || undefined">
          <p v-if="view === 'line'" class="break-words" :style="{ fontSize: `${size}px`, lineHeight: 1.35 }">
            <LiveText :face="entry.face" :text="shownText" />
          </p>
          <ol v-else-if="view === 'sizes'">
            <li v-for="s in SIZES" :key="s" class="grid grid-cols-[3rem_minmax(0,1fr)] items-baseline border-b border-rule py-1">
              <span class="note" :style="{ letterSpacing: '0', fontFeatureSettings: 'normal' }">{{ s }} px</span>
              <span class="overflow-hidden whitespace-nowrap" :style="{ fontSize: `${s}px`, lineHeight: 1.35 }"
                ><LiveText :face="entry.face" :text="shownText"
              /></span>
            </li>
          </ol>
          <div v-else-if="view === 'paragraph'" class="grid gap-8">
            <p v-for="s in [20, 16, 13]" :key="s" :style="{ fontSize: `${s}px`, lineHeight: 1.5, maxWidth: '36em' }">
              <LiveText :face="entry.face" :text="capitals ? running.toLocaleUpperCase(language || undefined) : running" />
            </p>
          </div>
          <div v-else-if="view === 'figures'">
            <ul class="w-fit text-right" :style="{ fontSize: `${size}px`, lineHeight: 1.3 }">
              <li v-for="(p, i) in prices" :key="i"><LiveText :face="entry.face" :text="p" /></li>
            </ul>
            <p class="mt-4" :style="{ fontSize: `${Math.min(size, 48)}px`, lineHeight: 1.4 }">
              <LiveText :face="entry.face" text="0123456789 1/2 3/4 10th No 7" />
            </p>
          </div>
          <div v-else class="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
            <div
              v-for="p in pairs"
              :key="`${p.ink.hex}${p.paper.hex}`"
              class="overflow-hidden border border-rule px-4 py-3"
              :style="{ color: p.ink.hex, background: p.paper.hex }"
            >
              <p class="overflow-hidden whitespace-nowrap" :style="{ fontSize: `${Math.min(size, 40)}px`, lineHeight: 1.35 }">
                <LiveText :face="entry.face" :text="shownText" />
              </p>
              <p
                class="font-sans text-note"
                :style="{
                  letterSpacing: '0',
                  fontFeatureSettings: 'normal',
                  color: contrast('#000000', p.paper.hex) > 5 ? '#000000' : '#ffffff',
                }"
              >
                {{ p.ink.name }} on {{ p.paper.name }}, {{ p.ratio.toFixed(1) }}:1, {{ grade(p.ratio) }}
              </p>
            </div>
          </div>
        </div>
        <button v-if="view === 'figures'" type="button" class="press-quiet mt-4" @click="moving = !moving">
          {{ moving ? 'Stop counting' : 'Count on' }}
        </button>
      </div>
    </div>
    <aside
      aria-label="Settings"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-4 max-lg:w-full max-lg:border-t max-lg:border-l-0"
      tabindex="0"
    >
      <template v-if="face">
        <section v-if="entry && entry.family.faces.length > 1">
          <label class="note block" for="try-style">Style</label>
          <select id="try-style" class="field" :value="faceId" @change="put({ face: ($event.target as HTMLSelectElement).value, at: '' })">
            <option v-for="f in entry.family.faces" :key="f.id" :value="f.id">{{ f.style }}</option>
          </select>
        </section>
        <section v-if="face.axes.length > 0" class="mt-5">
          <h2>Axes</h2>
          <label v-for="a in face.axes" :key="a.tag" class="mt-2 block">
            <span class="flex justify-between text-note"
              ><span>{{ a.name ?? a.tag }}</span
              ><span class="code">{{ axisValue(a.tag) }}</span></span
            >
            <input
              type="range"
              class="w-full accent-action"
              :min="a.min"
              :max="a.max"
              :step="a.max - a.min > 20 ? 1 : 0.01"
              :value="axisValue(a.tag)"
              @input="setAxes([[a.tag, Number(($event.target as HTMLInputElement).value)]])"
            />
          </label>
          <div v-if="face.instances.length > 0" class="mt-2 flex flex-wrap gap-x-3 gap-y-1" role="group" aria-label="Named instances">
            <button
              v-for="(i, n) in face.instances"
              :key="n"
              type="button"
              class="text-note underline-offset-4 hover:underline"
              :class="instanceOn(i.coordinates) ? 'font-semibold underline' : 'text-action'"
              :aria-pressed="instanceOn(i.coordinates)"
              @click="setAxes(face.axes.map((a, k) => [a.tag, i.coordinates[k] ?? a.default]))"
            >
              {{ i.name ?? i.coordinates.join(', ') }}
            </button>
          </div>
        </section>
        <section class="mt-5">
          <h2>Letters</h2>
          <label class="mt-1 flex items-center gap-2"
            ><input type="checkbox" class="accent-action" :checked="capitals" @change="put({ capitals: capitals ? '' : 'yes' })" />All
            capitals</label
          >
          <label class="mt-2 block">
            <span class="flex justify-between text-note"
              ><span>Space between letters</span><span>{{ spacing }} thousandths of the em</span></span
            >
            <input
              type="range"
              min="-100"
              max="500"
              step="5"
              class="w-full accent-action"
              :value="spacing"
              @input="put({ spacing: ($event.target as HTMLInputElement).value === '0' ? '' : ($event.target as HTMLInputElement).value })"
            />
          </label>
        </section>
        <section class="mt-5">
          <h2>Features</h2>
          <p v-if="switchable(face.features).length === 0" class="note mt-1">This face has none that can be switched.</p>
          <ul class="mt-1">
            <li v-for="tag in switchable(face.features)" :key="tag">
              <label class="flex items-center gap-2" :class="{ 'font-semibold': view === 'figures' && FIGURES.includes(tag) }">
                <input type="checkbox" class="accent-action" :checked="isOn(tag)" @change="toggle(tag)" />
                <span class="flex-1">{{ featureName(tag) }}</span><span class="code text-soft">{{ tag }}</span>
              </label>
            </li>
          </ul>
        </section>
        <section class="mt-5">
          <h2>Colors of the workspace</h2>
          <ul class="mt-1 flex flex-col gap-1">
            <li v-for="(c, i) in palette" :key="i" class="flex items-center gap-2">
              <input
                v-model="c.hex"
                type="color"
                class="h-8 w-10 shrink-0 border border-rule"
                :aria-label="`Color ${i + 1}`"
                :disabled="!session.canEdit"
              />
              <input
                v-model="c.name"
                class="field min-h-0 py-1"
                maxlength="40"
                :aria-label="`Name of color ${i + 1}`"
                :disabled="!session.canEdit"
              />
              <button v-if="session.canEdit" type="button" class="link text-note" @click="palette.splice(i, 1)">Remove</button>
            </li>
          </ul>
          <div v-if="session.canEdit" class="mt-2 flex gap-2">
            <button
              type="button"
              class="press-quiet"
              :disabled="palette.length >= 24"
              @click="palette.push({ name: `Color ${palette.length + 1}`, hex: '#5f594f' })"
            >
              Add
            </button>
            <button type="button" class="press-quiet" @click="savePalette">Keep them</button>
          </div>
        </section>
        <RouterLink class="link mt-5 block text-note" :to="{ path: '/library/proof', query: { faces: faceId } }"
          >Make a proof sheet of it</RouterLink
        >
        <RouterLink
          class="link mt-1 block text-note"
          :to="{
            path: '/foundry/words',
            query: {
              face: faceId,
              text: text || undefined,
              on: param('on') || undefined,
              at: param('at') || undefined,
              spacing: param('spacing') || undefined,
            },
          }"
          >Draw these words as shapes</RouterLink
        >
      </template>
    </aside>
  </div>
</template>
