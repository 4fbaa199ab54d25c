<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue';
import { computed, ref } from 'vue';
import { useLibrary, type Family } from './library';
import { count } from '../../platform/words';

/** What can be done to the order of the families in the tray. */
const props = defineProps<{ families: Family[] }>();
const emit = defineEmits<{ clear: [] }>();
const library = useLibrary();
const label = ref('');
const collection = ref('');
const note = ref('');
const into = ref('');
const ids = computed(() => props.families.map((f) => f.id));
const allFavorite = computed(() => props.families.every((f) => f.favorite));
const allArchived = computed(() => props.families.every((f) => f.archived));
const common = computed(() => [...new Set(props.families.flatMap((f) => f.labels))].sort());

async function addLabel(close: () => void): Promise<void> {
  const word = label.value.trim();
  if (word === '') return;
  if (await library.act({ act: 'label', familyIds: ids.value, add: [word], remove: [] })) {
    label.value = '';
    close();
  }
}
async function collect(collectionId: string | null, close: () => void): Promise<void> {
  const done = await library.act(
    collectionId
      ? { act: 'collect', collectionId, familyIds: ids.value, on: true }
      : { act: 'collect', collectionId: null, name: collection.value.trim(), familyIds: ids.value, on: true },
  );
  if (done) {
    collection.value = '';
    close();
  }
}
async function writeNote(close: () => void): Promise<void> {
  if (await library.act({ act: 'note', familyIds: ids.value, note: note.value })) close();
}
async function merge(close: () => void): Promise<void> {
  const target = into.value || ids.value[0]!;
  if (await library.act({ act: 'merge', familyIds: ids.value, into: target })) {
    close();
    emit('clear');
  }
}
async function archive(): Promise<void> {
  if (await library.act({ act: 'archive', familyIds: ids.value, on: !allArchived.value })) emit('clear');
}
</script>

<template>
  <div role="group" aria-label="Put the families in the tray in order" class="flex flex-wrap items-center gap-2">
    <p class="mr-1 font-semibold">{{ count(families.length, 'family', 'families') }}</p>
    <button type="button" class="press-quiet" @click="library.act({ act: 'favorite', familyIds: ids, on: !allFavorite })">
      {{ allFavorite ? 'No longer favorites' : 'Make favorites' }}
    </button>
    <Popover v-slot="{ close }" class="relative">
      <PopoverButton class="press-quiet">Label</PopoverButton>
      <PopoverPanel class="absolute bottom-full z-30 mb-1 w-72 border border-rule-strong bg-sheet p-3">
        <form class="flex gap-2" @submit.prevent="addLabel(close)">
          <input v-model="label" class="field" maxlength="40" list="known-labels" aria-label="Label to add" placeholder="Label to add" />
          <datalist id="known-labels"><option v-for="l in library.shelf.labels" :key="l" :value="l" /></datalist>
          <button type="submit" class="press" :disabled="!label.trim()">Add</button>
        </form>
        <p v-if="common.length > 0" class="note mt-3">Take off</p>
        <button
          v-for="l in common"
          :key="l"
          type="button"
          class="link mr-3 text-note"
          @click="library.act({ act: 'label', familyIds: ids, add: [], remove: [l] })"
        >
          {{ l }}
        </button>
      </PopoverPanel>
    </Popover>
    <Popover v-slot="{ close }" class="relative">
      <PopoverButton class="press-quiet">Put into a collection</PopoverButton>
      <PopoverPanel class="absolute bottom-full z-30 mb-1 w-72 border border-rule-strong bg-sheet p-3">
        <ul v-if="library.shelf.collections.length > 0" class="mb-2 max-h-48 overflow-y-auto">
          <li v-for="c in library.shelf.collections" :key="c.id">
            <button type="button" class="link" @click="collect(c.id, close)">{{ c.name }}</button>
            <span class="note ml-2">{{ c.familyIds.length }}</span>
          </li>
        </ul>
        <form class="flex gap-2" @submit.prevent="collect(null, close)">
          <input v-model="collection" class="field" maxlength="120" aria-label="Name of a new collection" placeholder="New collection" />
          <button type="submit" class="press" :disabled="!collection.trim()">Make</button>
        </form>
      </PopoverPanel>
    </Popover>
    <Popover v-slot="{ close }" class="relative">
      <PopoverButton class="press-quiet" @click="note = families.length === 1 ? families[0]!.note : ''">Note</PopoverButton>
      <PopoverPanel class="absolute bottom-full z-30 mb-1 w-80 border border-rule-strong bg-sheet p-3">
        <textarea v-model="note" class="field" rows="4" maxlength="4000" aria-label="Note"></textarea>
        <button type="button" class="press mt-2" @click="writeNote(close)">Write the note</button>
      </PopoverPanel>
    </Popover>
    <Popover v-if="families.length > 1" v-slot="{ close }" class="relative">
      <PopoverButton class="press-quiet">Make one family</PopoverButton>
      <PopoverPanel class="absolute bottom-full z-30 mb-1 w-72 border border-rule-strong bg-sheet p-3">
        <p class="note">All faces go into one family; new faces of the other names will too.</p>
        <label class="mt-2 block"
          ><span class="note">Under the name</span>
          <select v-model="into" class="field">
            <option v-for="f in families" :key="f.id" :value="f.id">{{ f.name }}</option>
          </select></label
        >
        <button type="button" class="press mt-2" @click="merge(close)">Put them together</button>
      </PopoverPanel>
    </Popover>
    <button type="button" class="press-quiet" @click="archive">{{ allArchived ? 'Take out of the archive' : 'Archive' }}</button>
  </div>
</template>
