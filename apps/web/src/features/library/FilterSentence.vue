<script setup lang="ts">
import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Menu,
  MenuButton,
  MenuItem,
  MenuItems,
  Popover,
  PopoverButton,
  PopoverPanel,
} from '@headlessui/vue';
import {
  KINDS,
  KIND_LABELS,
  SLOPE_LABELS,
  USES,
  USE_WORDS,
  wantedToQuery,
  WEIGHT_LABELS,
  WIDTH_LABELS,
  type Wanted,
} from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import { useLibrary } from './library';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import { list } from '../../platform/words';
import SentencePart from './SentencePart.vue';

const wanted = defineModel<Wanted>({ required: true });
defineProps<{ shown: number; of: number }>();
const library = useLibrary();
const session = useSession();
const voice = useVoice();
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
const FORMATS: Record<string, string> = {
  '': 'any format',
  otf: 'OTF',
  ttf: 'TTF',
  woff2: 'WOFF2',
  woff: 'WOFF',
  ttc: 'TTC',
  eot: 'EOT',
  svg: 'SVG',
};
/** Registered axes. Source: OpenType Design-Variation Axis Tag Registry. */
const AXIS_WORDS: Record<string, string> = { wght: 'weight', wdth: 'width', opsz: 'optical size', slnt: 'slant', ital: 'italic' };

const kinds = { '': 'families of any kind', ...Object.fromEntries(KINDS.map((k) => [k, `${KIND_LABELS[k]} families`])) };
const uses = { '': 'any use', ...Object.fromEntries(USES.map((u) => [u, USE_WORDS[u].label.toLowerCase()])) };
const distinct = (values: string[]): string[] => [...new Set(values)].sort((a, b) => a.localeCompare(b, 'en'));
const choose = (any: string, values: string[], word: (v: string) => string = (v) => v): Record<string, string> => ({
  '': any,
  ...Object.fromEntries(values.map((v) => [v, word(v)])),
});
const ago = (days: number): string => new Date(Date.now() - days * 86_400_000).toLocaleDateString('sv-SE');

type Extra = 'weight' | 'width' | 'slope' | 'script' | 'axis' | 'color' | 'place' | 'label' | 'collection' | 'from' | 'since' | 'shelf';
/** Parts that are not always asked for; each is added when wanted. */
const extras = computed<Record<Extra, { name: string; before: string; choices: Record<string, string> }>>(() => ({
  weight: { name: 'weight', before: 'in a style that is', choices: { '': 'of any weight', ...WEIGHT_LABELS } },
  width: { name: 'width', before: 'in a style that is', choices: { '': 'of any width', ...WIDTH_LABELS } },
  slope: { name: 'slope', before: 'in a style that is', choices: { '': 'upright or slanted', ...SLOPE_LABELS } },
  script: {
    name: 'script',
    before: 'in the script',
    choices: choose('any script', distinct(library.families.flatMap((f) => f.scripts)), (s) => library.scriptNames.get(s) ?? s),
  },
  axis: {
    name: 'axes',
    before: 'with an axis for',
    choices: choose('anything', distinct(library.families.flatMap((f) => f.axes)), (a) => AXIS_WORDS[a] ?? a),
  },
  color: { name: 'color', before: 'that are', choices: { '': 'colored or not', yes: 'colored', no: 'of one color' } },
  place: {
    name: 'place',
    before: 'installed at',
    choices: choose('any place or none', distinct(library.families.flatMap((f) => f.places))),
  },
  label: { name: 'label', before: 'labeled', choices: choose('anything', library.shelf.labels) },
  collection: {
    name: 'collection',
    before: 'of the collection',
    choices: { '': 'any or none', ...Object.fromEntries(library.shelf.collections.map((c) => [c.id, c.name])) },
  },
  from: { name: 'where from', before: 'that came in', choices: choose('any bundle', distinct(library.families.flatMap((f) => f.sources))) },
  since: {
    name: 'when',
    before: 'added',
    choices: {
      '': 'at any time',
      [ago(0)]: 'today',
      [ago(7)]: 'in the last week',
      [ago(31)]: 'in the last month',
      [ago(365)]: 'in the last year',
    },
  },
  shelf: { name: 'shelf', before: 'among', choices: { '': 'all but archived ones', favorites: 'favorites', archived: 'archived ones' } },
}));
/** Added by hand and not set yet. */
const opened = ref<Extra[]>([]);
const extraKeys = computed(() => (Object.keys(extras.value) as Extra[]).filter((k) => wanted.value[k] !== '' || opened.value.includes(k)));
const STYLE: readonly Extra[] = ['weight', 'width', 'slope'];
/** One style must be all that is asked of it, so its parts are joined. */
const beforeOf = (key: Extra): string =>
  STYLE.includes(key) && extraKeys.value.find((k) => STYLE.includes(k)) !== key ? ' and' : `, ${extras.value[key].before}`;
const unused = computed(() => (Object.keys(extras.value) as Extra[]).filter((k) => !extraKeys.value.includes(k)));

const set = (part: Partial<Wanted>): void => void (wanted.value = { ...wanted.value, ...part });
const languageText = computed(() =>
  wanted.value.writes.length === 0
    ? 'any language'
    : list(
        wanted.value.writes.map((t) => library.languageNames.get(t) ?? t),
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
const plain = computed(() => Object.keys(wantedToQuery(wanted.value)).length === 0);
const asQuery = computed(() => new URLSearchParams(wantedToQuery(wanted.value)).toString());
const keptHere = computed(() => library.shelf.searches.find((s) => s.query === asQuery.value) ?? null);

const naming = ref<string | null>(null);
async function keep(): Promise<void> {
  const name = naming.value?.trim();
  if (!name) return;
  try {
    await call(routes.keepSearch, { body: { name, query: asQuery.value } });
    library.shelf = await call(routes.getShelf);
    voice.say(`Kept as “${name}”.`);
    naming.value = null;
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
async function forget(id: string, name: string): Promise<void> {
  const query = library.shelf.searches.find((s) => s.id === id)?.query ?? '';
  try {
    await call(routes.dropSearch, { params: { searchId: id } });
    library.shelf = await call(routes.getShelf);
    voice.say(`“${name}” is forgotten; the families are as they were.`, 'told', {
      label: 'Undo',
      run: () =>
        void call(routes.keepSearch, { body: { name, query } })
          .then(async () => (library.shelf = await call(routes.getShelf)))
          .catch((error: unknown) => voice.say(sentence(error), 'fault')),
    });
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
function showAll(): void {
  opened.value = [];
  set(Object.fromEntries(Object.entries(wanted.value).map(([k, v]) => [k, Array.isArray(v) ? [] : ''])));
}
</script>

<template>
  <div>
    <div class="flex flex-wrap items-baseline gap-x-1.5 font-serif text-[16px] leading-[26px]">
      <span>Show</span>
      <SentencePart :model-value="wanted.kind" name="Kind" :choices="kinds" @update:model-value="set({ kind: $event as Wanted['kind'] })" />
      <span>that write</span>
      <Popover class="relative">
        <PopoverButton class="part" :class="{ 'part-set': wanted.writes.length > 0 }">{{ languageText }}</PopoverButton>
        <PopoverPanel class="absolute z-30 w-72 border border-rule-strong bg-sheet p-3 font-sans text-base">
          <Combobox :model-value="wanted.writes" multiple as="div" @update:model-value="set({ writes: $event })">
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
      <SentencePart :model-value="wanted.use" name="Use" :choices="uses" @update:model-value="set({ use: $event as Wanted['use'] })" />
      <span class="-ml-1.5">, in</span>
      <SentencePart
        :model-value="wanted.format"
        name="Format"
        :choices="FORMATS"
        @update:model-value="set({ format: $event as Wanted['format'] })"
      />
      <span class="-ml-1.5">, with</span>
      <SentencePart
        :model-value="wanted.features[0] ?? ''"
        name="Features"
        :choices="FEATURES"
        @update:model-value="set({ features: $event ? [$event] : [] })"
      />
      <template v-for="key in extraKeys" :key="key">
        <span class="-ml-1.5">{{ beforeOf(key) }}</span>
        <SentencePart
          :model-value="wanted[key]"
          :name="extras[key].name"
          :choices="extras[key].choices"
          @update:model-value="set({ [key]: $event })"
        />
      </template>
      <span class="-ml-1.5">.</span>
      <Menu v-if="unused.length > 0" as="div" class="relative">
        <MenuButton class="px-1 font-sans text-note text-action hover:underline">And …</MenuButton>
        <MenuItems class="choices">
          <MenuItem v-for="key in unused" :key="key" v-slot="{ active }">
            <button type="button" class="choice block w-full text-left" :class="{ 'bg-action-pale': active }" @click="opened.push(key)">
              {{ STYLE.includes(key) ? `of a certain ${extras[key].name}` : `${extras[key].before} …` }}
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
      <span class="note ml-auto font-sans" role="status"
        >{{ shown === of ? `${of} in all` : `${shown} of ${of}` }}
        <button v-if="!plain" type="button" class="link ml-1" @click="showAll">Show all</button></span
      >
    </div>
    <div v-if="library.shelf.searches.length > 0 || !plain" class="flex flex-wrap items-baseline gap-x-4 leading-6">
      <span v-for="s in library.shelf.searches" :key="s.id" class="note">
        <RouterLink
          class="link inline-block min-h-6 leading-6"
          :class="{ 'font-semibold': keptHere?.id === s.id }"
          :to="`/library?${s.query}`"
          >{{ s.name }}</RouterLink
        >
        <button
          v-if="session.canEdit && keptHere?.id === s.id"
          type="button"
          class="ml-1 text-soft hover:text-no"
          :aria-label="`Forget the sentence ${s.name}`"
          @click="forget(s.id, s.name)"
        >
          forget
        </button>
      </span>
      <template v-if="session.canEdit && !plain && !keptHere">
        <button v-if="naming === null" type="button" class="text-note text-action hover:underline" @click="naming = ''">
          Keep this sentence
        </button>
        <form v-else class="flex items-center gap-2" @submit.prevent="keep">
          <input
            v-model="naming"
            class="field min-h-0 w-44 py-0.5"
            maxlength="120"
            aria-label="Name of the sentence"
            placeholder="Name it"
            @keydown.escape="naming = null"
          />
          <button type="submit" class="press-quiet min-h-0 py-0.5" :disabled="!naming?.trim()">Keep</button>
        </form>
      </template>
    </div>
  </div>
</template>
