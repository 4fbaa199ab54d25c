<script setup lang="ts">
import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Listbox,
  ListboxButton,
  ListboxOption,
  ListboxOptions,
  Popover,
  PopoverButton,
  PopoverPanel,
} from '@headlessui/vue';
import { USES, USE_WORDS } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { useLibrary } from '../stores/library';
import { list } from '../words';

/** What the sentence asks for; empty means any. */
export interface Wanted {
  languages: string[];
  use: string;
  format: string;
  feature: string;
}

const wanted = defineModel<Wanted>({ required: true });
defineProps<{ shown: number; of: number }>();
const library = useLibrary();
const query = ref('');

/** Features people ask for. Source: OpenType Layout tag registry. */
const FEATURES: Record<string, string> = {
  '': 'any features',
  smcp: 'small capitals',
  tnum: 'figures of equal width',
  onum: 'old-style figures',
  frac: 'fractions',
  salt: 'alternates',
  liga: 'ligatures',
  swsh: 'swashes',
};
const FORMATS: Record<string, string> = { '': 'any format', otf: 'OTF', ttf: 'TTF', woff2: 'WOFF2', woff: 'WOFF', ttc: 'TTC' };
const uses = computed<Record<string, string>>(() => ({
  '': 'any use',
  ...Object.fromEntries(USES.map((u) => [u, USE_WORDS[u].label.toLowerCase()])),
}));
const set = (part: Partial<Wanted>): void => void (wanted.value = { ...wanted.value, ...part });
const languageText = computed(() =>
  wanted.value.languages.length === 0
    ? 'any language'
    : list(
        wanted.value.languages.map((t) => library.languageNames.get(t) ?? t),
        3,
      ),
);
/** The workspace's own languages first, then by name; eight at a time. */
const found = computed(() => {
  const q = query.value.toLowerCase();
  return library.languages
    .filter((l) => q === '' || l.name.toLowerCase().includes(q) || l.tag === q)
    .sort(
      (a, b) =>
        Number(library.ownLanguages.includes(b.tag)) - Number(library.ownLanguages.includes(a.tag)) ||
        Number(!a.name.toLowerCase().startsWith(q)) - Number(!b.name.toLowerCase().startsWith(q)) ||
        a.name.localeCompare(b.name),
    )
    .slice(0, 8);
});
const plain = computed(() => wanted.value.languages.length === 0 && !wanted.value.use && !wanted.value.format && !wanted.value.feature);
</script>

<template>
  <div class="flex flex-wrap items-baseline gap-x-1.5 font-serif text-[16px] leading-7">
    <span>Show families that write</span>
    <Popover class="relative">
      <PopoverButton class="part" :class="{ 'part-set': wanted.languages.length > 0 }">{{ languageText }}</PopoverButton>
      <PopoverPanel class="absolute z-30 w-72 border border-rule-strong bg-sheet p-3 font-sans text-base">
        <Combobox :model-value="wanted.languages" multiple as="div" @update:model-value="set({ languages: $event })">
          <ComboboxInput
            class="field"
            aria-label="Find a language"
            placeholder="Find a language"
            :display-value="() => query"
            @change="query = $event.target.value"
          />
          <ComboboxOptions static class="mt-2">
            <ComboboxOption v-for="l in found" :key="l.tag" v-slot="{ active, selected }" :value="l.tag" as="template">
              <li class="flex cursor-pointer justify-between px-2 py-1" :class="{ 'bg-action-pale': active, 'font-semibold': selected }">
                <span>{{ l.name }}</span><span class="note">{{ selected ? 'chosen' : l.scriptName }}</span>
              </li>
            </ComboboxOption>
            <li v-if="found.length === 0" class="note px-2 py-1">No language of that name.</li>
          </ComboboxOptions>
        </Combobox>
      </PopoverPanel>
    </Popover>
    <span class="-ml-1.5">, cleared for</span>
    <Listbox :model-value="wanted.use" as="div" class="relative" @update:model-value="set({ use: $event })">
      <ListboxButton class="part" :class="{ 'part-set': wanted.use }">{{ uses[wanted.use] }}</ListboxButton>
      <ListboxOptions class="choices"
        ><ListboxOption v-for="(word, key) in uses" :key="key" v-slot="{ active, selected }" :value="key" as="template"
          ><li class="choice" :class="{ 'bg-action-pale': active, 'font-semibold': selected }">{{ word }}</li></ListboxOption
        ></ListboxOptions
      >
    </Listbox>
    <span class="-ml-1.5">, in</span>
    <Listbox :model-value="wanted.format" as="div" class="relative" @update:model-value="set({ format: $event })">
      <ListboxButton class="part" :class="{ 'part-set': wanted.format }">{{ FORMATS[wanted.format] }}</ListboxButton>
      <ListboxOptions class="choices"
        ><ListboxOption v-for="(word, key) in FORMATS" :key="key" v-slot="{ active, selected }" :value="key" as="template"
          ><li class="choice" :class="{ 'bg-action-pale': active, 'font-semibold': selected }">{{ word }}</li></ListboxOption
        ></ListboxOptions
      >
    </Listbox>
    <span class="-ml-1.5">, with</span>
    <Listbox :model-value="wanted.feature" as="div" class="relative" @update:model-value="set({ feature: $event })">
      <ListboxButton class="part" :class="{ 'part-set': wanted.feature }">{{ FEATURES[wanted.feature] }}</ListboxButton>
      <ListboxOptions class="choices"
        ><ListboxOption v-for="(word, key) in FEATURES" :key="key" v-slot="{ active, selected }" :value="key" as="template"
          ><li class="choice" :class="{ 'bg-action-pale': active, 'font-semibold': selected }">{{ word }}</li></ListboxOption
        ></ListboxOptions
      >
    </Listbox>
    <span class="-ml-1.5">.</span>
    <span class="note ml-auto font-sans" role="status"
      >{{ shown === of ? `${of} in all` : `${shown} of ${of}` }}
      <button v-if="!plain" type="button" class="link ml-1" @click="set({ languages: [], use: '', format: '', feature: '' })">
        Show all
      </button></span
    >
  </div>
</template>
