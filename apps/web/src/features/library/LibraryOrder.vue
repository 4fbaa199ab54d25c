<script setup lang="ts">
import { KEEP_RULE, type Change, type Doubles, type KeepRule, type Storage } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import LibraryNav from './LibraryNav.vue';
import { useLibrary } from './library';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import { count, size, when } from '../../platform/words';

const library = useLibrary();
const session = useSession();
const voice = useVoice();
const doubles = ref<Doubles | null>(null);
const storage = ref<Storage | null>(null);
const changes = ref<Change[]>([]);
const problem = ref('');
const rule = ref<KeepRule>({ ...KEEP_RULE });
const chosenFaces = ref<string[]>([]);
const chosenFiles = ref<string[]>([]);
const renaming = ref<{ id: string; name: string } | null>(null);
const sure = ref(false);
const MOST = 200;

const ORDERS: { name: string; formats: KeepRule['formats'] }[] = [
  { name: 'OTF, then TTF, then web files', formats: ['otf', 'ttf', 'ttc', 'woff2', 'woff'] },
  { name: 'TTF, then OTF, then web files', formats: ['ttf', 'otf', 'ttc', 'woff2', 'woff'] },
  { name: 'web files first, WOFF2 before WOFF', formats: ['woff2', 'woff', 'ttf', 'otf', 'ttc'] },
];
const VERSIONS = { newest: 'the newest version', all: 'every version' } as const;
const NAMES = {
  licensed: 'the one whose license is on record, then the one here longest',
  oldest: 'the one here longest',
  all: 'both',
} as const;
const order = computed({
  get: () => ORDERS.findIndex((o) => o.formats.join() === rule.value.formats.join()),
  set: (i) => (rule.value = { ...rule.value, formats: ORDERS[i]!.formats }),
});
const KIND = {
  versions: 'Versions of one face',
  'same-outlines': 'The same outlines under another name',
  'same-letters': 'The same letters, one with more characters',
} as const;

async function load(): Promise<void> {
  try {
    [doubles.value, storage.value, changes.value] = await Promise.all([
      call(routes.listDoubles),
      call(routes.getStorage),
      call(routes.listChanges),
    ]);
    problem.value = '';
  } catch (error) {
    problem.value = sentence(error);
  }
}
watch(
  () => library.families,
  () => void load(),
  { immediate: true },
);
watch(
  () => library.shelf.rule,
  (r) => (rule.value = { ...r }),
  { immediate: true },
);

async function remove(): Promise<void> {
  if (await library.act({ act: 'remove', faceIds: chosenFaces.value, fileIds: chosenFiles.value })) {
    chosenFaces.value = [];
    chosenFiles.value = [];
  }
}
async function free(): Promise<void> {
  if (!sure.value) {
    sure.value = true;
    return;
  }
  sure.value = false;
  try {
    const done = await call(routes.freeSpace, { body: {} });
    voice.say(
      [
        `${count(done.files, 'file')}${done.others > 0 ? ` and ${count(done.others, 'removed item')}` : ''} deleted for good, ${size(done.bytes)} freed.`,
        ...done.left,
      ].join(' '),
    );
    await library.load();
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
async function renameCollection(): Promise<void> {
  const r = renaming.value;
  if (r && r.name.trim() && (await library.act({ act: 'rename-collection', collectionId: r.id, name: r.name.trim() })))
    renaming.value = null;
}
const folded = computed(() => doubles.value?.folded ?? []);
const spare = computed(() => doubles.value?.spare ?? []);
const most = computed(() => Math.max(1, ...(storage.value?.kinds.map((k) => k.bytes) ?? [])));
const selectedBytes = computed(
  () =>
    spare.value.filter((f) => chosenFiles.value.includes(f.fileId)).reduce((s, f) => s + f.bytes, 0) +
    [...folded.value, ...(storage.value?.neverUsed ?? [])]
      .filter((f, i, all) => chosenFaces.value.includes(f.faceId) && all.findIndex((x) => x.faceId === f.faceId) === i)
      .reduce((s, f) => s + f.bytes, 0),
);
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-4 max-sm:px-4">
      <LibraryNav />
      <h1 class="mt-3">Order and space</h1>
      <p v-if="problem" class="mt-3 text-no">{{ problem }}</p>
      <p v-else-if="!doubles || !storage" class="mt-3 text-soft">Looking for doubles …</p>
      <template v-else>
        <section class="mt-4" aria-labelledby="doubles">
          <h2 id="doubles">Doubles</h2>
          <p class="mt-1 font-serif text-[16px] leading-8">
            Of one face in several files, let
            <select v-model.number="order" class="part bg-transparent" aria-label="Order of containers" :disabled="!session.canEdit">
              <option v-for="(o, i) in ORDERS" :key="o.name" :value="i">{{ o.name }}</option>
            </select>
            lead. Of several versions, keep
            <select v-model="rule.versions" class="part bg-transparent" aria-label="Versions" :disabled="!session.canEdit">
              <option v-for="(word, key) in VERSIONS" :key="key" :value="key">{{ word }}</option>
            </select>
            in the list. Of the same outlines under two names, keep
            <select v-model="rule.names" class="part max-w-full bg-transparent" aria-label="Same outlines" :disabled="!session.canEdit">
              <option v-for="(word, key) in NAMES" :key="key" :value="key">{{ word }}</option>
            </select>
            .
          </p>
          <p class="note">The others go behind the kept one. Nothing is deleted, and it can be undone.</p>
          <button v-if="session.canEdit" type="button" class="press mt-2" @click="library.act({ act: 'resolve', rule })">
            Fold by this rule
          </button>
          <p v-if="doubles.groups.length === 0" class="mt-3">No face stands here twice.</p>
          <ul class="mt-3">
            <li v-for="(g, i) in doubles.groups.slice(0, MOST)" :key="i" class="border-t border-rule py-2">
              <p class="note">
                {{ KIND[g.kind] }}{{ g.differs.length > 0 ? `; their ${g.differs.join(', ')} differ, so no rule folds them` : ''
                }}<RouterLink
                  v-if="g.faces.length === 2"
                  class="link ml-3"
                  :to="{ path: '/library/versions', query: { older: g.faces[1]!.faceId, newer: g.faces[0]!.faceId } }"
                  >Compare outlines</RouterLink
                >
              </p>
              <p v-for="f in g.faces" :key="f.faceId">
                <RouterLink class="link" :to="{ path: '/library', query: { face: f.faceId } }">{{ f.family }} {{ f.style }}</RouterLink>
                <span class="note ml-2">
                  {{ f.version ?? 'no version' }}, {{ count(f.codePoints, 'character') }}, {{ size(f.bytes)
                  }}{{ f.licensed ? ', licensed' : '' }}{{ f.installed ? ', installed' : '' }}</span
                >
              </p>
            </li>
          </ul>
        </section>

        <section class="mt-8" aria-labelledby="tidy">
          <h2 id="tidy">To tidy away</h2>
          <p class="note">
            What a license, an install or a statement rests on cannot be removed. Removed things can be taken back until the space is freed.
          </p>
          <fieldset v-if="folded.length > 0" class="mt-3">
            <legend class="font-semibold">Behind other faces</legend>
            <label v-for="f in folded.slice(0, MOST)" :key="f.faceId" class="flex items-center gap-2">
              <input v-model="chosenFaces" type="checkbox" class="accent-action" :value="f.faceId" :disabled="!session.canEdit" />
              <span class="min-w-0 flex-1 truncate"
                >{{ f.family }} {{ f.style }} <span class="note">{{ f.version }}</span></span
              >
              <span class="note">{{ size(f.bytes) }}</span>
            </label>
          </fieldset>
          <fieldset v-if="spare.length > 0" class="mt-3">
            <legend class="font-semibold">Files beside the leading one</legend>
            <label class="note flex items-center gap-2">
              <input
                type="checkbox"
                class="accent-action"
                :checked="chosenFiles.length === spare.length"
                :disabled="!session.canEdit"
                @change="chosenFiles = chosenFiles.length === spare.length ? [] : spare.map((f) => f.fileId)"
              />All {{ spare.length }}</label
            >
            <label v-for="f in spare.slice(0, MOST)" :key="f.fileId" class="flex items-center gap-2">
              <input v-model="chosenFiles" type="checkbox" class="accent-action" :value="f.fileId" :disabled="!session.canEdit" />
              <span class="min-w-0 flex-1 truncate"
                >{{ f.name }} <span class="note">of {{ f.face }}</span></span
              >
              <span class="note">{{ size(f.bytes) }}</span>
            </label>
          </fieldset>
          <fieldset v-if="storage.neverUsed.length > 0" class="mt-3">
            <legend class="font-semibold">Never used</legend>
            <p class="note">Here for 90 days or more: no license, no delivery, no favorite, collection, label or note.</p>
            <label v-for="f in storage.neverUsed.slice(0, MOST)" :key="f.faceId" class="flex items-center gap-2">
              <input v-model="chosenFaces" type="checkbox" class="accent-action" :value="f.faceId" :disabled="!session.canEdit" />
              <span class="min-w-0 flex-1 truncate"
                >{{ f.face }} <span class="note">here since {{ when(f.addedAt) }}</span></span
              >
              <span class="note">{{ size(f.bytes) }}</span>
            </label>
          </fieldset>
          <p v-if="folded.length + spare.length + storage.neverUsed.length === 0" class="mt-2">There is nothing to tidy away.</p>
          <button v-if="chosenFaces.length + chosenFiles.length > 0" type="button" class="press mt-3" @click="remove">
            Remove {{ count(chosenFaces.length + chosenFiles.length, 'thing') }}, {{ size(selectedBytes) }}
          </button>
        </section>
      </template>
    </div>
    <aside
      aria-label="Space, collections and changes"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-4 max-lg:w-full max-lg:border-t max-lg:border-l-0"
      tabindex="0"
    >
      <template v-if="storage">
        <h2>Space</h2>
        <p class="mt-1">
          {{ count(storage.families, 'family', 'families') }} with {{ count(storage.faces, 'face') }}, {{ size(storage.total) }} as
          received{{ storage.free === null ? '' : `; ${size(storage.free)} are free on the disk` }}.
        </p>
        <table class="mt-2 w-full">
          <caption class="sr-only">
            Space by kind of file
          </caption>
          <tbody>
            <tr v-for="k in storage.kinds" :key="k.kind">
              <th scope="row" class="py-0.5 pr-2 text-left text-note font-normal">{{ k.kind }}</th>
              <td class="note pr-2 text-right">{{ k.count }}</td>
              <td class="w-24">
                <span class="block h-2 bg-action" :style="{ width: `${Math.max(2, (100 * k.bytes) / most)}%` }"></span>
              </td>
              <td class="note pl-2 text-right whitespace-nowrap">{{ size(k.bytes) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="storage.made > 0" class="note mt-1">And {{ size(storage.made) }} of conversions, which can be made again.</p>
        <p class="note mt-1">
          Of the {{ size(storage.quota) }} that this workspace may keep, {{ size(storage.held) }} are taken, records and results included.
        </p>
        <template v-if="storage.removed.files + storage.removed.others > 0">
          <p class="mt-3">
            {{ count(storage.removed.files, 'removed file') }}
            <template v-if="storage.removed.others > 0">and {{ count(storage.removed.others, 'other removed item') }}</template>
            still take space<template v-if="storage.removed.bytes > 0">, {{ size(storage.removed.bytes) }} of it in files</template>.
          </p>
          <button v-if="session.isOwner" type="button" class="press-quiet mt-1" @click="free">
            {{ sure ? 'Yes, delete them for good' : 'Free this space' }}
          </button>
          <p v-if="sure" class="note mt-1" role="alert">This cannot be undone.</p>
        </template>
      </template>
      <template v-if="library.shelf.collections.length > 0">
        <h2 class="mt-6">Collections</h2>
        <ul class="mt-1">
          <li v-for="c in library.shelf.collections" :key="c.id" class="border-b border-rule py-1">
            <form v-if="renaming?.id === c.id" class="flex gap-2" @submit.prevent="renameCollection">
              <input v-model="renaming.name" class="field min-h-0 py-0.5" maxlength="120" aria-label="Name of the collection" />
              <button type="submit" class="press-quiet min-h-0 py-0.5">Name</button>
            </form>
            <template v-else>
              <RouterLink class="link" :to="{ path: '/library', query: { collection: c.id } }">{{ c.name }}</RouterLink>
              <span class="note ml-2">{{ c.familyIds.length }}</span>
              <span v-if="session.canEdit" class="float-right">
                <button type="button" class="link text-note" @click="renaming = { id: c.id, name: c.name }">Rename</button>
                <button type="button" class="link ml-3 text-note" @click="library.act({ act: 'remove-collection', collectionId: c.id })">
                  Remove
                </button>
              </span>
            </template>
          </li>
        </ul>
      </template>
      <template v-if="changes.length > 0">
        <h2 class="mt-6">What was done</h2>
        <ul class="mt-1">
          <li v-for="c in changes.slice(0, 20)" :key="c.id" class="border-b border-rule py-1">
            <span class="block text-note" :class="{ 'text-soft line-through': c.undone }">{{ c.summary }}</span>
            <span class="note"
              >{{ c.by }}, {{ when(c.at)
              }}<button v-if="session.canEdit && !c.undone" type="button" class="link float-right" @click="library.undo(c.id)">
                Undo
              </button></span
            >
          </li>
        </ul>
      </template>
    </aside>
  </div>
</template>
