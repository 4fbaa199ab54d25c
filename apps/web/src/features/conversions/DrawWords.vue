<script setup lang="ts">
import { watchDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import type { DrawnWords, WordsWish } from '@orderly-glyph/schema';
import { useAddress, useFace } from '../../platform/address';
import { addressOf, call, routes, sentence } from '../../platform/api';
import { useSession } from '../accounts/session';
import { DEFAULT_ON, featureName, switchable } from '../faces/features';
import { useLibrary } from '../library/library';
import SentencePart from '../library/SentencePart.vue';
import VerdictMark from '../licenses/VerdictMark.vue';

/** Words as shapes, for cutters, embroidery and makers of signs who take no font. */
const { param, put } = useAddress();
const library = useLibrary();
const session = useSession();

const MEASURES = { em: 'the em', capitals: 'capital letters', width: 'the whole width' };
const UNITS = { mm: 'mm', in: 'inches', px: 'px', pt: 'points' };
const ALIGN = { left: 'lines begin together', center: 'lines are centered', right: 'lines end together' };
const PIECES = { one: 'one outline', letters: 'an outline for each letter' };
const PURPOSES = { logo: 'a logo', 'printed-goods': 'printed goods', 'design-work': 'design work' };

const faceId = computed(() => param('face'));
const entry = computed(() => library.faces.get(faceId.value) ?? null);
const { face, problem: faceProblem } = useFace(() => faceId.value);
const part = (name: string, fallback: string) =>
  computed({ get: () => param(name) || fallback, set: (v: string) => put({ [name]: v === fallback ? undefined : v }) });
const measure = part('measure', 'em');
const unit = part('unit', 'mm');
const align = part('align', 'left');
const pieces = part('pieces', 'one');
const purpose = part('for', 'printed-goods');
const size = part('size', '20');
const spacing = part('spacing', '0');
const lineHeight = part('lines', '');
const color = part('color', '#1f1d1a');
const columns = part('columns', '2000');
const text = ref(param('text'));
watchDebounced(text, (words) => put({ text: words }), { debounce: 300 });
const settled = ref(false);

/** Features as "smcp" or "liga-0", axes as "wght-500", as the page to try a face has them. */
const features = computed(() =>
  param('on')
    .split(',')
    .filter(Boolean)
    .map((f) => ({ tag: f.slice(0, 4), value: f.endsWith('-0') ? 0 : 1 })),
);
const isOn = (tag: string): boolean => (features.value.find((f) => f.tag === tag)?.value ?? (DEFAULT_ON.has(tag) ? 1 : 0)) === 1;
function toggle(tag: string): void {
  const on = !isOn(tag);
  const next = features.value.filter((f) => f.tag !== tag);
  if (on !== DEFAULT_ON.has(tag)) next.push({ tag, value: on ? 1 : 0 });
  put({ on: next.map((f) => (f.value === 0 ? `${f.tag}-0` : f.tag)).join(',') });
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
function setAxis(tag: string, value: number): void {
  const next = new Map(axes.value).set(tag, value);
  put({ at: [...next].map(([t, v]) => `${t}-${v}`).join(',') });
}

const wish = computed<WordsWish>(() => ({
  text: param('text') || entry.value?.family.name || '',
  size: Number(size.value),
  unit: unit.value as WordsWish['unit'],
  measure: measure.value as WordsWish['measure'],
  letterSpacing: Number(spacing.value),
  lineHeight: lineHeight.value === '' ? null : Number(lineHeight.value),
  align: align.value as WordsWish['align'],
  features: features.value,
  at: [...axes.value].map(([t, v]) => `${t.trim()}=${v}`).join(','),
  pieces: pieces.value as WordsWish['pieces'],
  color: color.value,
  purpose: purpose.value as WordsWish['purpose'],
  settled: settled.value,
}));

const drawn = ref<DrawnWords | null>(null);
const problem = ref('');
let turn = 0;
watchDebounced(
  [faceId, () => JSON.stringify(wish.value), () => library.state],
  async () => {
    if (!faceId.value || wish.value.text === '') return;
    const mine = ++turn;
    try {
      const found = await call(routes.drawWords, { params: { faceId: faceId.value }, body: { wish: wish.value } });
      if (mine !== turn) return;
      drawn.value = found;
      problem.value = '';
    } catch (error) {
      if (mine !== turn) return;
      drawn.value = null;
      problem.value = sentence(error);
    }
  },
  { debounce: 200, immediate: true },
);
/** As a picture: an SVG that is shown as one runs nothing and loads nothing. */
const picture = computed(() => (drawn.value ? `data:image/svg+xml;charset=utf-8,${encodeURIComponent(drawn.value.svg)}` : ''));
const length = (v: number): string => (v >= 100 ? v.toFixed(0) : v.toFixed(1));
const answer = computed(() => drawn.value?.verdict.answer ?? 'ask');
const mayTake = computed(() => answer.value === 'yes' || (answer.value === 'ask' && settled.value));
const fileOf = (as: 'svg' | 'pdf' | 'png'): string =>
  addressOf(routes.getWords, {
    params: { faceId: faceId.value },
    query: { wish: JSON.stringify(wish.value), as, columns: Number(columns.value) || 2000 },
  });
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-4 max-sm:px-4">
      <RouterLink :to="{ path: '/library', query: { face: faceId } }" class="link text-note">Library</RouterLink>
      <h1 class="truncate">{{ entry ? `Words as shapes in ${entry.family.name} ${entry.face.style}` : 'Words as shapes' }}</h1>
      <p v-if="faceProblem" class="mt-4 text-no">{{ faceProblem }}</p>
      <p v-else-if="!faceId" class="mt-4">
        Choose a face in the <RouterLink class="link" to="/library">library</RouterLink>, and “Words as shapes” in its margin.
      </p>
      <template v-else>
        <div class="mt-3 flex flex-wrap items-baseline gap-x-2 gap-y-1 font-serif text-[17px]">
          <span>Draw them so that</span><SentencePart v-model="measure" name="what is measured" :choices="MEASURES" /><span>{{
            measure === 'capitals' ? 'are' : 'is'
          }}</span
          ><input v-model.lazy="size" class="field w-20 font-sans" inputmode="decimal" aria-label="Size" /><span
            class="inline-flex items-baseline"
            ><SentencePart v-model="unit" name="unit" :choices="UNITS" /><span>,</span></span
          ><span class="inline-flex items-baseline"><SentencePart v-model="align" name="lines" :choices="ALIGN" /><span>,</span></span
          ><span>as</span
          ><span class="inline-flex items-baseline"><SentencePart v-model="pieces" name="outlines" :choices="PIECES" /><span>,</span></span
          ><span>for</span
          ><span class="inline-flex items-baseline"
            ><SentencePart v-model="purpose" name="purpose" :choices="PURPOSES" /><span>.</span></span
          >
        </div>
        <label class="mt-4 block max-w-3xl"
          ><span class="note">Words, each line as it shall stand</span
          ><textarea
            v-model="text"
            class="field mt-1 w-full"
            rows="2"
            maxlength="2000"
            dir="auto"
            :placeholder="entry?.family.name ?? ''"
          ></textarea>
        </label>
        <p v-if="problem" role="alert" class="mt-4 max-w-3xl border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
        <figure v-else-if="drawn" class="mt-5">
          <div class="border border-rule bg-sheet p-8">
            <img :src="picture" :alt="wish.text" class="mx-auto max-h-[46vh] w-full object-contain" />
          </div>
          <figcaption class="note mt-2">
            {{ length(drawn.width) }} by {{ length(drawn.height) }} {{ UNITS[drawn.unit] }}, from the outermost ink on every side.
            {{ drawn.notes.join(' ') }}
          </figcaption>
        </figure>
        <p v-else class="mt-5 text-soft">Drawing …</p>
      </template>
    </div>
    <aside
      v-if="faceId"
      aria-label="Settings and files"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-4 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <template v-if="drawn">
        <h2>Take them</h2>
        <p class="mt-2"><VerdictMark :answer="drawn.verdict.answer" :label="`For ${PURPOSES[wish.purpose]}`" /></p>
        <p v-if="answer !== 'yes'" class="note mt-1">{{ drawn.verdict.reasons[0] }} {{ drawn.verdict.remedy }}</p>
        <label v-if="answer === 'ask' && session.canEdit" class="mt-2 flex items-start gap-2"
          ><input v-model="settled" type="checkbox" class="mt-1 accent-action" /><span>I have asked the maker, and may.</span></label
        >
        <p v-if="!session.canEdit" class="note mt-2">An editor or an owner takes files away.</p>
        <ul v-else-if="mayTake" class="mt-3 grid gap-1">
          <li><a class="link" :href="fileOf('svg')" download>SVG</a> <span class="note">for cutters and drawing programs</span></li>
          <li><a class="link" :href="fileOf('pdf')" download>PDF</a> <span class="note">in true size, without a font</span></li>
          <li class="flex flex-wrap items-baseline gap-x-2">
            <a class="link" :href="fileOf('png')" download>PNG</a> <span class="note">on clear ground,</span
            ><input v-model.lazy="columns" class="field w-20" inputmode="numeric" aria-label="Pixels across" /><span class="note"
              >pixels across</span
            >
          </li>
        </ul>
        <p v-else-if="answer === 'no'" class="note mt-2">
          The license does not allow it.
          <RouterLink class="link" :to="{ path: '/library', query: { face: faceId } }">See its sentences</RouterLink>
        </p>
      </template>
      <template v-if="face">
        <section class="mt-5">
          <h2>Setting</h2>
          <label class="mt-2 flex items-center justify-between gap-2"
            ><span>Space between letters <span class="note">thousandths of the em</span></span
            ><input v-model.lazy="spacing" class="field w-20" inputmode="numeric"
          /></label>
          <label class="mt-2 flex items-center justify-between gap-2"
            ><span>From line to line <span class="note">ems</span></span
            ><input v-model.lazy="lineHeight" class="field w-20" inputmode="decimal" placeholder="its own"
          /></label>
          <div class="mt-2 flex items-center justify-between gap-2">
            <span>Color</span
            ><span class="flex items-center gap-2"
              ><button
                v-for="c in library.shelf.palette"
                :key="c.hex"
                type="button"
                class="h-6 w-6 border border-rule"
                :style="{ background: c.hex }"
                :aria-label="c.name"
                :title="c.name"
                @click="color = c.hex" /><input v-model.lazy="color" type="color" class="h-8 w-10 border border-rule" aria-label="Color"
            /></span>
          </div>
        </section>
        <section v-if="face.axes.length > 0" class="mt-5">
          <h2>Axes</h2>
          <label v-for="a in face.axes" :key="a.tag" class="mt-2 block">
            <span class="flex justify-between text-note"
              ><span>{{ a.name ?? a.tag }}</span
              ><span class="code">{{ axes.get(a.tag) ?? a.default }}</span></span
            >
            <input
              type="range"
              class="w-full accent-action"
              :min="a.min"
              :max="a.max"
              :step="a.max - a.min > 20 ? 1 : 0.01"
              :value="axes.get(a.tag) ?? a.default"
              @change="setAxis(a.tag, Number(($event.target as HTMLInputElement).value))"
            />
          </label>
        </section>
        <section v-if="switchable(face.features).length > 0" class="mt-5">
          <h2>Features</h2>
          <ul class="mt-1">
            <li v-for="tag in switchable(face.features)" :key="tag">
              <label class="flex items-center gap-2">
                <input type="checkbox" class="accent-action" :checked="isOn(tag)" @change="toggle(tag)" />
                <span class="flex-1">{{ featureName(tag) }}</span><span class="code text-soft">{{ tag }}</span>
              </label>
            </li>
          </ul>
        </section>
      </template>
    </aside>
  </div>
</template>
