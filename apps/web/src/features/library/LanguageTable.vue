<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue';
import { useVirtualizer } from '@tanstack/vue-virtual';
import type { LanguageNeeds, LanguageTable } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { useAddress } from '../../platform/address';
import { call, routes, sentence } from '../../platform/api';
import LibraryNav from './LibraryNav.vue';
import { useLibrary } from './library';
import { useVoice } from '../../platform/voice';
import { count } from '../../platform/words';

const library = useLibrary();
const voice = useVoice();
const { param, put } = useAddress();
const table = ref<LanguageTable | null>(null);
const needs = ref<LanguageNeeds | null>(null);
const problem = ref('');
const query = ref('');
const tags = computed(() => param('tags').split(',').filter(Boolean));

watch(
  [() => tags.value.join(), () => library.families],
  async ([asked]) => {
    try {
      table.value = await call(routes.getLanguageTable, { query: asked ? { tags: asked } : {} });
      problem.value = '';
    } catch (error) {
      problem.value = sentence(error);
    }
  },
  { immediate: true },
);
watch(
  [() => param('face'), () => param('language')],
  async ([faceId, language]) => {
    needs.value = null;
    if (!faceId || !language) return;
    try {
      needs.value = await call(routes.getNeeds, { params: { faceId }, query: { language } });
    } catch (error) {
      voice.say(sentence(error), 'fault');
    }
  },
  { immediate: true },
);
const MARK = {
  f: { word: 'yes', look: 'bg-yes text-paper' },
  n: { word: 'nearly', look: 'bg-ask-pale text-ask' },
  '-': { word: 'no', look: 'text-soft' },
} as const;
const mark = (cell: string | undefined): (typeof MARK)['f' | 'n' | '-'] => MARK[(cell ?? '-') as 'f' | 'n' | '-'];
const byReach = computed(() => param('sort') === 'reach');
const rows = computed(() => {
  const list = [...(table.value?.families ?? [])];
  const score = (cells: string): number => [...cells].reduce((s, c) => s + (c === 'f' ? 100 : c === 'n' ? 1 : 0), 0);
  return byReach.value ? list.sort((a, b) => score(b.cells) - score(a.cells)) : list;
});
const totals = computed(() => table.value?.languages.map((_, i) => rows.value.filter((r) => r.cells[i] === 'f').length) ?? []);
const found = computed(() => {
  const q = query.value.toLowerCase();
  const shown = new Set(table.value?.languages.map((l) => l.tag));
  return q === ''
    ? []
    : library.languages.filter((l) => !shown.has(l.tag) && (l.name.toLowerCase().includes(q) || l.tag === q)).slice(0, 8);
});
function add(tag: string | null): void {
  if (!tag) return;
  query.value = '';
  put({ tags: [...(table.value?.languages.map((l) => l.tag) ?? []), tag].join(',') });
}
const drop = (tag: string): void =>
  put({
    tags: table
      .value!.languages.map((l) => l.tag)
      .filter((t) => t !== tag)
      .join(','),
  });
const ROW = 34;
const scroller = ref<HTMLElement | null>(null);
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => scroller.value,
    estimateSize: () => ROW,
    overscan: 10,
    paddingStart: 108,
  })),
);
const asText = computed(() => {
  const n = needs.value;
  if (!n) return '';
  const lines = (list: LanguageNeeds['letters']): string => list.map((l) => `${l.character}\t${l.codePoint}\t${l.name}`).join('\n');
  return [
    `To write ${n.language}, ${n.face} would need:`,
    n.letters.length > 0 ? `Letters (${n.letters.length})\n${lines(n.letters)}` : '',
    n.marks.length > 0 ? `Figures, punctuation and signs (${n.marks.length})\n${lines(n.marks)}` : '',
    n.failure ? `Shaping: ${n.failure} must join or melt together` : '',
  ]
    .filter(Boolean)
    .join('\n\n');
});
const copy = (): Promise<void> => voice.copy(asText.value, 'The list is copied.');
const file = computed(() => `data:text/plain;charset=utf-8,${encodeURIComponent(asText.value)}`);
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="flex h-full min-w-0 flex-1 flex-col max-lg:min-h-[70vh]">
      <div class="border-b border-rule px-6 pt-4 pb-3 max-sm:px-4">
        <LibraryNav />
        <div class="mt-2 flex flex-wrap items-end gap-x-6 gap-y-2">
          <h1>What they write</h1>
          <div class="relative w-64">
            <Combobox :model-value="null" as="div" @update:model-value="add">
              <ComboboxInput
                class="field"
                aria-label="Add a language"
                placeholder="Add a language"
                :display-value="() => query"
                @change="query = $event.target.value"
              />
              <ComboboxOptions v-if="found.length > 0" static class="choices w-full">
                <ComboboxOption v-for="l in found" :key="l.tag" v-slot="{ active }" :value="l.tag" as="template">
                  <li class="choice flex justify-between" :class="{ 'bg-action-pale': active }">
                    <span>{{ l.name }}</span><span class="note">{{ l.scriptName }}</span>
                  </li>
                </ComboboxOption>
              </ComboboxOptions>
            </Combobox>
          </div>
          <label class="flex items-center gap-2 pb-1"
            ><input type="checkbox" class="accent-action" :checked="byReach" @change="put({ sort: byReach ? '' : 'reach' })" />Most
            languages first</label
          >
          <RouterLink v-if="tags.length > 0" class="link pb-1 text-note" to="/library/languages">Only our own languages</RouterLink>
        </div>
      </div>
      <p v-if="problem" class="p-6 text-no">{{ problem }}</p>
      <p v-else-if="!table" class="p-6 text-soft">Reading what each family writes …</p>
      <p v-else-if="table.families.length === 0" class="p-6">No family is here yet.</p>
      <p v-else-if="table.languages.length === 0" class="p-6">
        The workspace has no ready text in a language yet. Add a language above to see who writes it.
      </p>
      <div
        v-else
        ref="scroller"
        class="relative min-h-0 flex-1 overflow-auto"
        tabindex="0"
        role="region"
        aria-label="Languages and families"
      >
        <div
          role="table"
          :aria-rowcount="rows.length + 1"
          class="relative w-max min-w-full"
          :style="{ height: `${virtual.getTotalSize()}px` }"
        >
          <div role="row" class="sticky top-0 z-10 flex h-[108px] items-end border-b border-rule-strong bg-paper pl-6">
            <span role="columnheader" class="note w-56 shrink-0 pb-1">{{ count(rows.length, 'family', 'families') }}</span>
            <span v-for="(l, i) in table.languages" :key="l.tag" role="columnheader" class="w-14 shrink-0 pb-1 text-center">
              <span
                class="mx-auto block h-[64px] rotate-180 text-left text-note whitespace-nowrap [text-orientation:sideways] [writing-mode:vertical-rl]"
                :title="l.script"
                >{{ l.name }}</span
              >
              <span class="note block">{{ totals[i] }}</span>
              <button
                v-if="tags.length > 0"
                type="button"
                class="note hover:text-no"
                :aria-label="`Leave out ${l.name}`"
                @click="drop(l.tag)"
              >
                ×
              </button>
            </span>
          </div>
          <div
            v-for="row in virtual.getVirtualItems()"
            :key="String(row.key)"
            role="row"
            class="absolute inset-x-0 top-0 flex items-center border-b border-rule pl-6"
            :style="{ height: `${row.size}px`, transform: `translateY(${row.start}px)` }"
          >
            <span role="rowheader" class="w-56 shrink-0 truncate pr-3"
              ><RouterLink
                class="hover:underline"
                :title="rows[row.index]!.name"
                :to="{ path: '/library', query: { face: rows[row.index]!.faceId } }"
                >{{ rows[row.index]!.name }}</RouterLink
              ></span
            >
            <span v-for="(l, i) in table.languages" :key="l.tag" role="cell" class="flex w-14 shrink-0 justify-center">
              <button
                type="button"
                class="h-6 w-11 rounded-sm text-[12px] leading-6"
                :class="[
                  mark(rows[row.index]!.cells[i]).look,
                  { 'outline-2 outline-action': param('face') === rows[row.index]!.faceId && param('language') === l.tag },
                ]"
                :aria-label="`${rows[row.index]!.name}, ${l.name}: ${mark(rows[row.index]!.cells[i]).word}`"
                @click="put({ face: rows[row.index]!.faceId, language: l.tag })"
              >
                {{ mark(rows[row.index]!.cells[i]).word }}
              </button>
            </span>
          </div>
        </div>
      </div>
    </div>
    <aside
      aria-label="What a language would need"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-4 max-lg:w-full max-lg:border-t max-lg:border-l-0"
      tabindex="0"
    >
      <template v-if="needs">
        <h2>{{ needs.language }} in {{ needs.face }}</h2>
        <p v-if="needs.level === 'full'" class="mt-1">
          It writes {{ needs.language }} in full{{ needs.marks.length > 0 ? ', apart from these signs' : '' }}.
        </p>
        <p v-else class="mt-1">
          Adding {{ needs.language }} would need {{ count(needs.letters.length, 'letter')
          }}{{ needs.marks.length > 0 ? ` and ${count(needs.marks.length, 'sign')}` : '' }}{{ needs.failure ? ', and shaping' : '' }}.
        </p>
        <p v-if="needs.inBrowsers > 0" class="mt-2 border-l-2 border-ask bg-ask-pale px-3 py-1">
          The face does not say where marks stand. Browsers place
          {{ needs.inBrowsers === needs.letters.length ? 'them' : `those of ${count(needs.inBrowsers, 'letter')}` }} well by themselves;
          print and design programs do not.
        </p>
        <p v-if="needs.failure" class="mt-2 border-l-2 border-no bg-no-pale px-3 py-1">
          Its letters do not join as they must: {{ needs.failure }}.
        </p>
        <template
          v-for="[title, list] in [
            ['Letters', needs.letters],
            ['Figures, punctuation and signs', needs.marks],
          ] as const"
          :key="title"
        >
          <template v-if="list.length > 0">
            <h3 class="mt-4">{{ title }}</h3>
            <ul class="mt-1">
              <li v-for="l in list" :key="l.codePoint" class="grid grid-cols-[2.5rem_1fr] border-b border-rule py-0.5">
                <span class="text-[18px]">{{ l.character }}</span>
                <span class="note min-w-0"
                  ><span class="code">{{ l.codePoint }}</span
                  ><br />{{ l.name }}</span
                >
              </li>
            </ul>
          </template>
        </template>
        <div v-if="needs.letters.length + needs.marks.length > 0" class="mt-4 flex gap-2">
          <button type="button" class="press" @click="copy">Copy the list</button>
          <a class="press-quiet" :href="file" :download="`${needs.language} for ${needs.face}.txt`">Save it</a>
        </div>
      </template>
      <p v-else class="text-soft">
        Choose a cell of the table. What that family would need for that language stands here, letter by letter, to hand to a type designer.
      </p>
    </aside>
  </div>
</template>
