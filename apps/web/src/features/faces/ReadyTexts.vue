<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue';
import { ArrowDown, ArrowUp } from '@lucide/vue';
import type { ReadyText } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import LibraryNav from '../library/LibraryNav.vue';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';

const library = useLibrary();
const session = useSession();
const voice = useVoice();
const MOST = 60;
const texts = ref<ReadyText[]>([]);
const problem = ref('');
const query = ref('');
const same = (a: ReadyText[], b: ReadyText[]): boolean => JSON.stringify(a) === JSON.stringify(b);
const plain = (list: readonly ReadyText[]): ReadyText[] => list.map(({ language, label, text }) => ({ language, label, text }));
const changed = computed(() => !same(plain(texts.value), plain(library.readyTexts)));
watch(
  () => library.readyTexts,
  (kept) => (texts.value = plain(kept)),
  { immediate: true },
);

const has = (tag: string): boolean => texts.value.some((t) => t.language === tag);
/** What this browser is set to: whoever sells in a language mostly reads it. */
const near = computed(() =>
  [...new Set([...navigator.languages, 'en'].map((l) => l.split('-')[0]!))]
    .flatMap((tag) => library.languages.find((l) => l.tag === tag) ?? [])
    .filter((l) => !has(l.tag)),
);
const found = computed(() => {
  const q = query.value.trim().toLowerCase();
  return q === ''
    ? []
    : library.languages
        .filter((l) => l.name.toLowerCase().includes(q) || l.tag === q)
        .sort((a, b) => Number(!a.name.toLowerCase().startsWith(q)) - Number(!b.name.toLowerCase().startsWith(q)))
        .slice(0, 8);
});
async function add(tag: string | null): Promise<void> {
  if (!tag) return;
  query.value = '';
  try {
    texts.value.push(await call(routes.sampleText, { query: { language: tag } }));
  } catch (error) {
    problem.value = sentence(error);
  }
}
const own = (label: string, text: string): number => texts.value.push({ language: '', label, text });
function move(from: number, by: number): void {
  const [text] = texts.value.splice(from, 1);
  texts.value.splice(from + by, 0, text!);
}
async function keep(): Promise<void> {
  problem.value = '';
  try {
    library.readyTexts = await call(routes.setReadyTexts, { body: texts.value.filter((t) => t.text.trim() && t.label.trim()) });
    voice.say('Kept. They stand under the proof line, for everyone here.');
  } catch (error) {
    problem.value = sentence(error);
  }
}
</script>

<template>
  <div class="mx-auto max-w-4xl px-6 py-4 max-sm:px-4">
    <LibraryNav />
    <h1 class="mt-3">Ready texts</h1>
    <p class="mt-1 text-soft">
      They stand under the proof line, and their languages are those in which each face is looked at first. Choose the languages you sell
      in; each comes with a sentence, which you may put into your own words.
    </p>
    <div v-if="session.canEdit" class="mt-4 flex flex-wrap items-start gap-3">
      <Combobox :model-value="null" as="div" class="relative w-72 max-sm:w-full" @update:model-value="add">
        <ComboboxInput
          class="field"
          aria-label="Add a language"
          placeholder="Add a language"
          :display-value="() => query"
          @change="query = $event.target.value"
        />
        <ComboboxOptions class="choices w-full">
          <ComboboxOption v-for="l in found" :key="l.tag" v-slot="{ active }" :value="l.tag" as="template">
            <li class="flex cursor-pointer justify-between px-3 py-1" :class="{ 'bg-action-pale': active }">
              <span>{{ l.name }}</span><span class="note">{{ has(l.tag) ? 'here already' : l.scriptName }}</span>
            </li>
          </ComboboxOption>
          <li v-if="found.length === 0 && query" class="note px-3 py-1">No language of that name.</li>
        </ComboboxOptions>
      </Combobox>
      <button v-for="l in near" :key="l.tag" type="button" class="press-quiet" @click="add(l.tag)">{{ l.name }}</button>
      <button type="button" class="press-quiet" @click="own('Figures', '0123456789 ½ 1,250.00')">Figures</button>
      <button type="button" class="press-quiet" @click="own('Words of ours', '')">Words of your own</button>
    </div>
    <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
    <p v-if="texts.length === 0" class="mt-6">There is no ready text yet.</p>
    <ol class="mt-5 border-t border-rule">
      <li v-for="(t, i) in texts" :key="i" class="flex flex-wrap items-center gap-3 border-b border-rule py-2">
        <input
          v-model="t.label"
          class="field w-40"
          maxlength="60"
          :aria-label="`Name of ready text ${i + 1}`"
          :disabled="!session.canEdit"
        />
        <input
          v-model="t.text"
          class="field min-w-60 flex-1 font-serif text-[17px]"
          maxlength="400"
          dir="auto"
          :lang="t.language || undefined"
          :aria-label="`Words of ready text ${i + 1}`"
          :disabled="!session.canEdit"
        />
        <span class="note w-24 truncate">{{ t.language ? (library.languageNames.get(t.language) ?? t.language) : 'no language' }}</span>
        <template v-if="session.canEdit">
          <button type="button" class="small-target" :disabled="i === 0" :aria-label="`Move ${t.label} up`" @click="move(i, -1)">
            <ArrowUp :size="16" aria-hidden="true" />
          </button>
          <button
            type="button"
            class="small-target"
            :disabled="i === texts.length - 1"
            :aria-label="`Move ${t.label} down`"
            @click="move(i, 1)"
          >
            <ArrowDown :size="16" aria-hidden="true" />
          </button>
          <button type="button" class="link min-h-6 text-note" @click="texts.splice(i, 1)">
            Take out<span class="sr-only"> {{ t.label }}</span>
          </button>
        </template>
      </li>
    </ol>
    <div v-if="session.canEdit && changed" class="mt-4 flex items-center gap-3">
      <button type="button" class="press" :disabled="texts.length > MOST" @click="keep">Keep these texts</button>
      <button type="button" class="link" @click="texts = plain(library.readyTexts)">As they were</button>
      <span v-if="texts.length > MOST" class="note text-no">{{ MOST }} is the most; take some out.</span>
    </div>
  </div>
</template>
