<script setup lang="ts">
import type { CharacterWish } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { useLibrary } from '../library/library';

/** What a face shall have: languages, and what else. */
const wish = defineModel<CharacterWish>({ required: true });
const library = useLibrary();
const search = ref('');
/** Scripts whose letters stand side by side. */
const SCRIPTS = ['Latn', 'Cyrl', 'Grek'];
const found = computed(() => {
  const words = search.value.trim().toLowerCase();
  return library.languages
    .filter(
      (l) =>
        SCRIPTS.includes(l.script) &&
        !wish.value.languages.includes(l.tag) &&
        (words === '' ? library.ownLanguages.includes(l.tag) : l.name.toLowerCase().includes(words)),
    )
    .slice(0, 8);
});
const change = (more: Partial<CharacterWish>): void => void (wish.value = { ...wish.value, ...more });
const nameOf = (tag: string): string => library.languageNames.get(tag) ?? tag;
const BOXES = [
  { key: 'figures', name: 'Figures' },
  { key: 'punctuation', name: 'Punctuation' },
  { key: 'currency', name: 'Currency signs' },
  { key: 'fractions', name: 'Fractions ½ ¼ ¾' },
  { key: 'capitalsOnly', name: 'Capitals only, small letters are copies of them' },
] as const;
</script>

<template>
  <fieldset>
    <legend class="note">Languages that it writes</legend>
    <p class="mt-1 flex flex-wrap gap-2">
      <span v-for="tag in wish.languages" :key="tag" class="inline-flex items-center gap-1 border border-rule-strong bg-sheet px-2"
        >{{ nameOf(tag)
        }}<button
          type="button"
          class="min-h-6 px-1 text-soft"
          :aria-label="`Without ${nameOf(tag)}`"
          :disabled="wish.languages.length === 1"
          @click="change({ languages: wish.languages.filter((t) => t !== tag) })"
        >
          ×
        </button></span
      >
    </p>
    <label class="mt-2 block max-w-xs"
      ><span class="sr-only">Find a language</span
      ><input v-model="search" class="field" type="search" placeholder="Find a language" autocomplete="off"
    /></label>
    <p v-if="found.length > 0" class="mt-1 flex flex-wrap gap-x-4">
      <button
        v-for="l in found"
        :key="l.tag"
        type="button"
        class="link"
        @click="(change({ languages: [...wish.languages, l.tag] }), (search = ''))"
      >
        Add {{ l.name }}
      </button>
    </p>
  </fieldset>
  <fieldset class="mt-4">
    <legend class="note">And beside their letters</legend>
    <label v-for="b in BOXES" :key="b.key" class="mt-1 flex items-start gap-2"
      ><input
        type="checkbox"
        class="accent-action"
        :checked="wish[b.key]"
        @change="change({ [b.key]: ($event.target as HTMLInputElement).checked })"
      />{{ b.name }}</label
    >
  </fieldset>
  <div class="mt-4 grid max-w-xl grid-cols-2 gap-4 max-sm:grid-cols-1">
    <label class="block"
      ><span class="note">Further drawings of each small letter, which take turns</span
      ><select class="field" :value="wish.variants" @change="change({ variants: Number(($event.target as HTMLSelectElement).value) })">
        <option :value="0">None</option>
        <option :value="1">One</option>
        <option :value="2">Two</option>
      </select></label
    >
    <label class="block"
      ><span class="note">Letters that are drawn as one, such as th, ff</span
      ><input
        class="field"
        :value="wish.ligatures.join(', ')"
        @change="
          change({
            ligatures: ($event.target as HTMLInputElement).value
              .split(/[\s,]+/)
              .filter((l) => [...l].length > 1 && [...l].length < 5)
              .slice(0, 40),
          })
        "
    /></label>
    <label class="block"
      ><span class="note">Further characters</span
      ><input class="field" maxlength="300" :value="wish.also" @change="change({ also: ($event.target as HTMLInputElement).value })"
    /></label>
  </div>
</template>
