<script setup lang="ts">
import type { Place, PlaceKind } from '@orderly-glyph/schema';
import { computed, onMounted, ref } from 'vue';
import { ApiProblem, call, routes, sentence } from '../../platform/api';
import PlaceSettings from './PlaceSettings.vue';
import LiveText from '../faces/LiveText.vue';
import { useLeaving } from './leaving';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import { count, size, when } from '../../platform/words';

const library = useLibrary();
const session = useSession();
const voice = useVoice();
/** The kind of place that is being added. */
const adding = ref<PlaceKind | null>(null);
const kinds = ref<PlaceKind[]>([]);
onMounted(async () => {
  try {
    kinds.value = await call(routes.listPlaceKinds, {});
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
});
const leaving = useLeaving();
/** The place whose name, address or key is being corrected. */
const editing = ref<(Pick<Place, 'id' | 'name' | 'address' | 'version'> & { key: string }) | null>(null);
async function saveEdit(): Promise<void> {
  if (!editing.value) return;
  const { id: placeId, ...body } = editing.value;
  problem.value = '';
  try {
    const { changed } = await call(routes.changePlace, { params: { placeId }, body });
    editing.value = null;
    library.takeOver(changed);
    await library.loadPlaces();
  } catch (error) {
    problem.value = sentence(error);
    if (error instanceof ApiProblem && error.code === 'stale') {
      await library.loadPlaces();
      const now = library.places.find((p) => p.id === placeId);
      if (now && editing.value) {
        problem.value += ` It is now called “${now.name}”, at ${now.address}.`;
        editing.value.version = now.version;
      }
    }
  }
}
const problem = ref('');
const form = ref({ name: '', address: '', key: '' });
const none = computed(() => library.state === 'ready' && library.places.length === 0);

async function add(): Promise<void> {
  if (!adding.value) return;
  problem.value = '';
  try {
    await call(routes.createPlace, { body: { ...form.value, profileId: adding.value.id } });
    adding.value = null;
    form.value = { name: '', address: '', key: '' };
    await library.loadPlaces();
  } catch (error) {
    problem.value = error instanceof ApiProblem ? error.message : sentence(error);
  }
}
async function forget(placeId: string): Promise<void> {
  try {
    await call(routes.removePlace, { params: { placeId } });
    await library.loadPlaces();
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
</script>

<template>
  <div class="mx-auto max-w-5xl px-6 py-8 max-sm:px-4">
    <div class="flex items-center justify-between gap-4">
      <h1>Places</h1>
      <div v-if="session.isOwner && !session.session?.account?.demo && !adding" class="flex flex-wrap gap-3">
        <button v-for="k in kinds" :key="k.id" type="button" class="press-quiet" @click="adding = k">Add {{ k.article }}</button>
      </div>
    </div>
    <form v-if="adding" class="mt-5 border-y border-rule py-5" @submit.prevent="add">
      <h2>{{ adding.about }}</h2>
      <PlaceSettings v-model="form" class="mt-3" :settings="adding.settings" />
      <p v-if="problem" role="alert" class="mt-3 text-no">{{ problem }}</p>
      <div class="mt-4 flex gap-3">
        <button class="press">Add it</button><button type="button" class="press-quiet" @click="adding = null">Leave it</button>
      </div>
    </form>
    <p v-if="library.state === 'failed'" class="mt-5">
      {{ library.problem }} <button type="button" class="link" @click="library.load()">Try again</button>
    </p>
    <p v-if="none && !adding" class="mt-5 text-soft">
      There is no place yet.
      {{
        session.isOwner ? 'Add your website or a folder, and faces can be put there from here.' : 'An owner of the workspace adds places.'
      }}
    </p>
    <section v-for="p in library.places" :key="p.id" class="mt-8" :aria-labelledby="`place-${p.id}`">
      <div class="flex flex-wrap items-baseline justify-between gap-x-4 border-b-2 border-ink pb-1">
        <h2 :id="`place-${p.id}`">{{ p.name }}</h2>
        <p class="note">
          {{ p.profile }}. Takes {{ p.formats.map((f) => f.toUpperCase()).join(' and ') }}, {{ size(p.maxBytes) }} at most.
          <a v-if="p.settings.some((f) => f.kind === 'address')" class="link" :href="p.address" target="_blank" rel="noopener"
            >Look at it</a
          >
          <button
            v-if="session.isOwner && !session.session?.account?.demo"
            type="button"
            class="link ml-3"
            @click="editing = { id: p.id, name: p.name, address: p.address, version: p.version, key: '' }"
          >
            Correct it<span class="sr-only">: {{ p.name }}</span>
          </button>
        </p>
      </div>
      <form v-if="editing?.id === p.id" class="border-b border-rule py-4" @submit.prevent="saveEdit">
        <PlaceSettings v-model="editing" :settings="p.settings" keep />
        <p v-if="problem" role="alert" class="mt-2 text-no">{{ problem }}</p>
        <div class="mt-3 flex gap-3">
          <button class="press">Keep it</button><button type="button" class="press-quiet" @click="editing = null">Leave it</button>
        </div>
      </form>
      <div v-if="p.installs.length === 0" class="flex items-center justify-between gap-4 py-4">
        <p class="text-soft">No face of yours is there. Choose one in the library and check it for this place.</p>
        <button v-if="session.isOwner" type="button" class="link shrink-0" @click="forget(p.id)">Forget this place</button>
      </div>
      <ul v-else :aria-label="count(p.installs.length, 'face')">
        <li
          v-for="i in p.installs"
          :key="i.id"
          class="grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-x-6 border-b border-rule py-3 max-sm:grid-cols-1"
        >
          <div class="min-w-0">
            <RouterLink :to="{ path: '/library', query: { face: i.faceId } }" class="block truncate text-[30px] leading-10">
              <LiveText v-if="library.faces.get(i.faceId)" :face="library.faces.get(i.faceId)!.face" :text="i.face" />
            </RouterLink>
            <a v-if="i.link" class="code block min-h-6 truncate leading-6 text-soft" :href="i.link" target="_blank" rel="noopener">{{
              i.address
            }}</a>
            <span v-else class="code block min-h-6 truncate leading-6 text-soft">{{ i.address }}</span>
          </div>
          <p class="note">
            {{ i.face }}<br />{{ i.format.toUpperCase() }}, {{ size(i.bytes) }}<br />{{ i.installedBy }}, {{ when(i.installedAt) }}
          </p>
          <button
            v-if="session.canEdit"
            type="button"
            class="press-quiet"
            @click="leaving.due.has(i.id) ? leaving.keep(i.id) : leaving.takeOff(i)"
          >
            <span>{{ leaving.due.has(i.id) ? 'Leave it there' : 'Take it off' }}</span><span class="sr-only"
              >, {{ i.face }} from {{ p.name }}</span
            >
          </button>
        </li>
      </ul>
    </section>
  </div>
</template>
