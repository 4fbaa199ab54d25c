<script setup lang="ts">
import type { PlaceRules } from '@orderly-glyph/schema';
import { USE_WORDS } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { ApiProblem, call, routes, sentence } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import { useLibrary } from '../library/library';

/** What a place takes, as an owner corrects it; what lies there is held against the new rules. */
const props = defineProps<{ placeId: string }>();
const library = useLibrary();
const voice = useVoice();
const place = computed(() => library.places.find((p) => p.id === props.placeId) ?? null);
const rules = ref<PlaceRules | null>(null);
const version = ref(0);
const problem = ref('');
const doubts = ref<string[]>([]);
watch(
  place,
  (p) => {
    if (!p || rules.value) return;
    rules.value = JSON.parse(JSON.stringify(p.rules)) as PlaceRules;
    version.value = p.version;
  },
  { immediate: true },
);
const FORMATS = ['ttf', 'otf', 'woff', 'woff2'] as const;
const mib = computed({
  get: () => Math.round(((rules.value?.accepts.maxBytes ?? 0) / 1024 / 1024) * 100) / 100,
  set: (n: number) => rules.value && (rules.value.accepts.maxBytes = Math.round(n * 1024 * 1024)),
});
const limit = (of: 'perUpload' | 'faces' | 'familyName') => ({
  get: () => rules.value?.limits[of] ?? '',
  set: (n: number | '') => rules.value && (rules.value.limits[of] = n === '' ? null : n),
});
const perUpload = computed(limit('perUpload'));
const faces = computed(limit('faces'));
const familyName = computed(limit('familyName'));
const families = computed({
  get: () => rules.value?.families ?? '',
  set: (n: number | '') => rules.value && (rules.value.families = n === '' ? null : n),
});
async function save(own: PlaceRules | null): Promise<void> {
  problem.value = '';
  doubts.value = [];
  try {
    const now = await call(routes.changeRules, { params: { placeId: props.placeId }, body: { rules: own, version: version.value } });
    doubts.value = now.doubts;
    rules.value = null;
    await library.loadPlaces();
    voice.say(
      now.doubts.length > 0 ? 'Kept. Some of what lies there would not be taken by these rules.' : 'Kept. All that lies there fits.',
    );
  } catch (error) {
    problem.value = sentence(error);
    if (error instanceof ApiProblem && error.code === 'stale') {
      await library.loadPlaces();
      if (place.value) version.value = place.value.version;
    }
  }
}
</script>

<template>
  <div class="mx-auto max-w-3xl px-6 py-8 max-sm:px-4">
    <p v-if="place" class="note">
      <RouterLink class="link" :to="`/places/${place.id}`">{{ place.name }}</RouterLink>
    </p>
    <h1>What this place takes</h1>
    <form v-if="rules" class="mt-4 flex flex-col gap-5" @submit.prevent="save(rules)">
      <label class="block max-w-sm"
        >Putting a face there is<select v-model="rules.use" class="field">
          <option v-for="(w, u) in USE_WORDS" :key="u" :value="u">{{ w.label }}</option>
        </select></label
      >
      <fieldset class="flex flex-wrap gap-x-5 gap-y-1">
        <legend>Formats</legend>
        <label v-for="f in FORMATS" :key="f" class="flex items-center gap-2"
          ><input v-model="rules.accepts.formats" type="checkbox" class="accent-action" :value="f" />{{ f.toUpperCase() }}</label
        >
        <label class="flex items-center gap-2"
          ><input
            v-model="rules.accepts.collections"
            type="checkbox"
            class="accent-action"
            true-value="accepted"
            false-value="refused"
          />TTC, whole collections</label
        >
      </fieldset>
      <div class="grid gap-4 sm:grid-cols-3">
        <label
          >If there is a choice<select v-model="rules.accepts.prefer" class="field">
            <option v-for="f in rules.accepts.formats" :key="f" :value="f">{{ f.toUpperCase() }}</option>
          </select></label
        >
        <label
          >MiB a file at most<input v-model.number="mib" type="number" class="field" min="0.001" max="1024" step="any" required
        /></label>
        <label
          >Letters of a family name<input v-model.number="familyName" type="number" class="field" min="1" max="255" /><span class="note"
            >Empty: no limit</span
          ></label
        >
        <label
          >Files in one upload<input v-model.number="perUpload" type="number" class="field" min="1" max="10000" /><span class="note"
            >Empty: no limit</span
          ></label
        >
        <label
          >Faces in all<input v-model.number="faces" type="number" class="field" min="1" max="100000" /><span class="note"
            >Empty: no limit</span
          ></label
        >
        <label
          >Families it bears<input v-model.number="families" type="number" class="field" min="1" max="100" /><span class="note"
            >Empty: it does not matter</span
          ></label
        >
      </div>
      <fieldset class="flex flex-col gap-1">
        <legend>It takes</legend>
        <label class="flex items-center gap-2"
          ><input
            v-model="rules.accepts.variable"
            type="checkbox"
            class="accent-action"
            true-value="accepted"
            false-value="refused"
          />variable faces</label
        >
        <label class="flex items-center gap-2"
          ><input v-model="rules.accepts.color" type="checkbox" class="accent-action" true-value="accepted" false-value="refused" />colored
          faces</label
        >
        <label class="flex items-center gap-2"
          ><input
            v-model="rules.embedding.restricted"
            type="checkbox"
            class="accent-action"
            true-value="accepted"
            false-value="refused"
          />files that forbid embedding</label
        >
        <label class="flex items-center gap-2"
          ><input
            v-model="rules.embedding.bitmapOnly"
            type="checkbox"
            class="accent-action"
            true-value="accepted"
            false-value="refused"
          />files of which only bitmaps may be embedded</label
        >
      </fieldset>
      <div class="grid gap-4 sm:grid-cols-2">
        <label
          >A second face of the same family and style<select v-model="rules.twins" class="field">
            <option value="beside">lies beside the first</option>
            <option value="replaces">takes its place</option>
            <option value="refused">is refused</option>
          </select></label
        >
        <label
          >A new version<select v-model="rules.replacing" class="field">
            <option value="over">can be put there while the old one lies there</option>
            <option value="remove-first">shows once the old one is removed</option>
          </select></label
        >
      </div>
      <label class="block"
        >Words that the place itself shows<textarea v-model="rules.shows.text" class="field" rows="2" maxlength="5000"></textarea
        ><span class="note">A face is held against their letters, beside the texts of the workspace</span></label
      >
      <div class="flex flex-wrap gap-x-5">
        <label class="flex items-center gap-2"
          ><input v-model="rules.shows.capitals" type="checkbox" class="accent-action" />It sets all capitals</label
        >
        <label class="flex items-center gap-2"
          ><input v-model="rules.shows.spaced" type="checkbox" class="accent-action" />It spaces letters out</label
        >
      </div>
      <p v-if="problem" role="alert" class="text-no">{{ problem }}</p>
      <div class="flex gap-3">
        <button class="press">Keep these rules</button>
        <button v-if="place?.ownRules" type="button" class="press-quiet" @click="save(null)">Go back to those of its kind</button>
      </div>
    </form>
    <section v-if="doubts.length > 0" class="mt-6" aria-live="polite">
      <h2>What lies there and would not be taken</h2>
      <p v-for="d in doubts" :key="d" class="mt-2 border-l-4 border-ask bg-ask-pale px-4 py-2">{{ d }}</p>
    </section>
  </div>
</template>
