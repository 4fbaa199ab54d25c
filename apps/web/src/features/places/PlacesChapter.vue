<script setup lang="ts">
import type { Place, PlaceKind } from '@orderly-glyph/schema';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { ApiProblem, call, routes, sentence } from '../../platform/api';
import { useLooking } from './looking';
import PlaceSettings from './PlaceSettings.vue';
import { standingOf } from './standing';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import { count, size } from '../../platform/words';

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
const router = useRouter();
/** Places where the right of a face has ended, by their use. */
const endedAt = (p: Place, faceId: string): boolean => library.faces.get(faceId)?.family.verdicts[p.use] === 'no';
const wrongAt = (p: Place): string[] => {
  const words = new Map<string, number>();
  for (const i of p.installs) {
    const { word, fine } = standingOf(i, endedAt(p, i.faceId));
    if (!fine) words.set(word, (words.get(word) ?? 0) + 1);
  }
  return [...words].map(([word, n]) => `${word.toLowerCase()}: ${n}`);
};
const ended = computed(() => library.places.flatMap((p) => p.installs.filter((i) => endedAt(p, i.faceId))));
const outdated = computed(() => library.places.flatMap((p) => p.installs.filter((i) => i.outdated && !p.byHand)));
const { looking, look: lookAtAll } = useLooking(() => null);
const problem = ref('');
const blank = { name: '', address: '', key: '', user: '', hostKey: '', page: '', byHand: false };
const form = ref({ ...blank });
const none = computed(() => library.state === 'ready' && library.places.length === 0);

async function add(): Promise<void> {
  if (!adding.value) return;
  problem.value = '';
  try {
    await call(routes.createPlace, { body: { ...form.value, profileId: adding.value.id } });
    adding.value = null;
    form.value = { ...blank };
    await library.loadPlaces();
  } catch (error) {
    problem.value = error instanceof ApiProblem ? error.message : sentence(error);
  }
}
</script>

<template>
  <div class="mx-auto max-w-5xl px-6 py-8 max-sm:px-4">
    <div class="flex flex-wrap items-center justify-between gap-4">
      <h1>Places</h1>
      <div class="flex flex-wrap gap-3">
        <RouterLink class="press-quiet" to="/places/house-styles">House styles</RouterLink>
        <button
          v-if="session.canEdit && library.places.length > 0"
          type="button"
          class="press-quiet"
          :disabled="looking !== ''"
          @click="lookAtAll"
        >
          {{ looking || 'Look at all places now' }}
        </button>
      </div>
    </div>
    <p v-if="session.isOwner && !adding" class="mt-4 flex flex-wrap items-baseline gap-x-4 gap-y-1">
      <span class="note">Add</span>
      <button v-for="k in kinds" :key="k.id" type="button" class="link" @click="adding = k">{{ k.article }}</button>
    </p>
    <p v-if="ended.length > 0" class="mt-4 border-l-4 border-no bg-no-pale px-4 py-2">
      The right to {{ count(ended.length, 'face') }} has ended where {{ ended.length === 1 ? 'it lies' : 'they lie' }} today.
      <RouterLink class="link" :to="{ path: '/places/withdraw', query: { ended: '1' } }">See what must come off where</RouterLink>
    </p>
    <p v-if="outdated.length > 0" class="mt-3 border-l-4 border-ask bg-ask-pale px-4 py-2">
      {{ count(outdated.length, 'place has', 'places have') }} an older version of a face.
      <RouterLink
        class="link"
        :to="{
          path: '/places/check',
          query: {
            faces: [...new Set(outdated.map((i) => i.faceId))].join(','),
            places: [...new Set(outdated.map((i) => i.placeId))].join(','),
          },
        }"
        >Replace it there</RouterLink
      >
    </p>
    <form v-if="adding" class="mt-5 border-y border-rule py-5" @submit.prevent="add">
      <h2>{{ adding.about }}</h2>
      <label class="mt-3 flex items-center gap-2"
        ><input v-model="form.byHand" type="checkbox" class="accent-action" />Nothing here speaks to it: a person puts files there, with a
        kit and a list</label
      >
      <PlaceSettings
        v-model="form"
        class="mt-3"
        :settings="form.byHand ? adding.settings.filter((f) => f.id === 'address') : adding.settings"
      />
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
    <ul v-if="library.places.length > 0" class="mt-6 border-t-2 border-ink">
      <li v-for="p in library.places" :key="p.id" class="border-b border-rule">
        <button
          type="button"
          class="grid w-full grid-cols-[minmax(0,1fr)_minmax(0,1fr)_11rem] items-baseline gap-x-6 py-4 text-left -outline-offset-2 hover:bg-action-pale max-sm:grid-cols-1"
          @click="router.push(`/places/${p.id}`)"
        >
          <span class="min-w-0"
            ><span class="block truncate font-serif text-[24px] leading-8">{{ p.name }}</span
            ><span class="note">{{ p.profile }}{{ p.byHand ? ', by hand' : '' }}</span></span
          ><span class="min-w-0 text-soft"
            ><span class="block truncate">{{
              p.installs
                .slice(0, 4)
                .map((i) => i.face)
                .join(', ') || 'No face of yours is there yet'
            }}</span
            ><span class="note">Takes {{ p.formats.map((f) => f.toUpperCase()).join(', ') }}, {{ size(p.maxBytes) }} at most</span></span
          ><span class="text-right max-sm:text-left"
            ><span class="block">{{ count(p.installs.length, 'face') }}</span
            ><span v-for="w in wrongAt(p)" :key="w" class="block text-no">{{ w }}</span
            ><span v-if="p.installs.length > 0 && wrongAt(p).length === 0" class="block text-yes">all in place</span></span
          >
        </button>
      </li>
    </ul>
  </div>
</template>
