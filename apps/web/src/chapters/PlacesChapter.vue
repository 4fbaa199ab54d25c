<script setup lang="ts">
import type { Place } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { ApiProblem, call, routes, sentence } from '../api';
import LiveText from '../components/LiveText.vue';
import { useLeaving } from '../stores/leaving';
import { useLibrary } from '../stores/library';
import { useSession } from '../stores/session';
import { useVoice } from '../stores/voice';
import { count, size, when } from '../words';

const library = useLibrary();
const session = useSession();
const voice = useVoice();
const adding = ref(false);
const leaving = useLeaving();
/** The place whose name, address or key is being corrected. */
const editing = ref<(Pick<Place, 'id' | 'name' | 'address' | 'version'> & { key: string }) | null>(null);
async function saveEdit(): Promise<void> {
  if (!editing.value) return;
  const { id: placeId, ...body } = editing.value;
  problem.value = '';
  try {
    await call(routes.changePlace, { params: { placeId }, body });
    editing.value = null;
    await library.load();
  } catch (error) {
    problem.value = sentence(error);
    if (error instanceof ApiProblem && error.code === 'stale') {
      await library.load();
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
  problem.value = '';
  try {
    await call(routes.createPlace, { body: { ...form.value, profileId: 'website' } });
    adding.value = false;
    form.value = { name: '', address: '', key: '' };
    await library.load();
  } catch (error) {
    problem.value = error instanceof ApiProblem ? error.message : sentence(error);
  }
}
async function forget(placeId: string): Promise<void> {
  try {
    await call(routes.removePlace, { params: { placeId } });
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
  await library.load();
}
</script>

<template>
  <div class="mx-auto max-w-5xl px-6 py-8 max-sm:px-4">
    <div class="flex items-center justify-between gap-4">
      <h1>Places</h1>
      <button v-if="session.isOwner && !session.session?.account?.demo && !adding" type="button" class="press-quiet" @click="adding = true">
        Add a website
      </button>
    </div>
    <form v-if="adding" class="mt-5 border-y border-rule py-5" @submit.prevent="add">
      <h2>A website that takes fonts</h2>
      <div class="mt-3 grid gap-4 sm:grid-cols-3">
        <label>Name<input v-model="form.name" class="field" required maxlength="120" placeholder="our-shop.example" /></label>
        <label
          >Address<input v-model="form.address" class="field" type="url" required maxlength="300" placeholder="https://our-shop.example"
        /></label>
        <label
          >Key of the site<input v-model="form.key" class="field" type="password" autocomplete="off" required maxlength="200" /><span
            class="note"
            >Whoever runs the site has it</span
          ></label
        >
      </div>
      <p v-if="problem" role="alert" class="mt-3 text-no">{{ problem }}</p>
      <div class="mt-4 flex gap-3">
        <button class="press">Add it</button><button type="button" class="press-quiet" @click="adding = false">Leave it</button>
      </div>
    </form>
    <p v-if="library.state === 'failed'" class="mt-5">
      {{ library.problem }} <button type="button" class="link" @click="library.load()">Try again</button>
    </p>
    <p v-if="none && !adding" class="mt-5 text-soft">
      There is no place yet.
      {{ session.isOwner ? 'Add your website, and faces can be put on it from here.' : 'An owner of the workspace adds places.' }}
    </p>
    <section v-for="p in library.places" :key="p.id" class="mt-8" :aria-labelledby="`place-${p.id}`">
      <div class="flex flex-wrap items-baseline justify-between gap-x-4 border-b-2 border-ink pb-1">
        <h2 :id="`place-${p.id}`">{{ p.name }}</h2>
        <p class="note">
          {{ p.profile }}. Takes {{ p.formats.map((f) => f.toUpperCase()).join(' and ') }}, {{ size(p.maxBytes) }} at most.
          <a class="link" :href="p.address" target="_blank" rel="noopener">Look at it</a>
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
        <div class="grid gap-4 sm:grid-cols-3">
          <label>Name<input v-model="editing.name" class="field" required maxlength="120" /></label>
          <label>Address<input v-model="editing.address" class="field" type="url" required maxlength="300" /></label>
          <label
            >Key of the site<input v-model="editing.key" class="field" type="password" autocomplete="off" maxlength="200" /><span
              class="note"
              >Left empty, it stays as it is</span
            ></label
          >
        </div>
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
            <a class="code block min-h-6 truncate leading-6 text-soft" :href="i.address" target="_blank" rel="noopener">{{ i.address }}</a>
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
