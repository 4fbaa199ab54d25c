<script setup lang="ts">
import { routes } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { call } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import { list, size } from '../../platform/words';
import { useSession } from '../accounts/session';
import { useLibrary } from '../library/library';
import type { FaceAtHand } from './typeface';

/** What the next release would be, its making, and all that were made. */
const props = defineProps<{ at: FaceAtHand }>();
const session = useSession();
const library = useLibrary();
const voice = useVoice();
const face = computed(() => props.at.face.value!);
const next = computed(() => face.value.next);
const notes = ref('');
const may = ref(false);
const ready = computed(() => face.value.stops.length === 0 && may.value);
const nothing = computed(
  () => next.value.number > 1 && next.value.added.length + next.value.changed.length + next.value.removed.length === 0,
);
async function release(): Promise<void> {
  const done = await props.at.carryOut(
    () =>
      call(routes.releaseTypeface, {
        params: { typefaceId: face.value.id },
        body: { notes: notes.value, mayRelease: true, version: face.value.version },
      }),
    `Making release ${next.value.number} …`,
  );
  if (!done) return;
  props.at.takeOver(done.typeface);
  library.takeOver(done.changed);
  notes.value = '';
  may.value = false;
  voice.say(`Release ${done.typeface.releases[0]!.number} is made. Its fonts are in the library.`);
}
const short = (names: readonly string[]): string =>
  names.length > 40 ? `${names.slice(0, 40).join(' ')} and ${names.length - 40} more` : names.join(' ');
</script>

<template>
  <div class="max-w-3xl">
    <section class="mt-4" aria-labelledby="next-release">
      <h2 id="next-release">Release {{ next.number }}</h2>
      <p v-for="s in face.stops" :key="s" class="mt-1 text-no">{{ s }}</p>
      <p v-if="face.missing.length > 0" class="mt-1 text-ask">Not in it yet: {{ short(face.missing) }}</p>
      <p v-for="l in face.languages.lacking" :key="l.tag" class="mt-1 text-ask">
        {{ l.name }} is not written in full: {{ l.missing.join(' ') || 'its letters are missing' }}.
      </p>
      <p v-if="nothing" class="mt-1 text-soft">Nothing changed since release {{ next.number - 1 }} but, perhaps, spacing.</p>
      <p v-if="next.added.length > 0" class="mt-1 break-words">Added: {{ short(next.added) }}</p>
      <p v-if="next.removed.length > 0" class="mt-1">Removed: {{ short(next.removed) }}</p>
      <ul v-if="next.changed.length > 0" class="mt-1 flex flex-wrap gap-4" aria-label="Drawn or spaced anew">
        <li v-for="c in next.changed.slice(0, 40)" :key="c.name" class="flex flex-col items-center">
          <svg viewBox="-100 -1000 1200 1400" width="64" height="75" aria-hidden="true">
            <path :d="c.before" fill="var(--no)" fill-opacity="0.55" />
            <path :d="c.after" fill="var(--ink)" fill-opacity="0.75" /></svg
          ><span class="note">{{ c.name }}</span>
        </li>
      </ul>
      <p v-if="next.changed.length > 0" class="note">As they are, over release {{ next.number - 1 }} in red.</p>
      <p v-if="next.number > 1 && next.places.length > 0" class="mt-2">
        {{ list(next.places) }} {{ next.places.length === 1 ? 'has' : 'have' }} an older release; after this one, replace it under
        <RouterLink class="link" to="/places">Places</RouterLink>.
      </p>
      <form v-if="session.canEdit" class="mt-4 flex flex-col gap-3" @submit.prevent="release">
        <label class="block"
          ><span class="note">A note for whoever uses it</span><textarea v-model="notes" class="field" rows="2" maxlength="2000"></textarea>
        </label>
        <label class="flex items-start gap-2"
          ><input v-model="may" type="checkbox" class="accent-action" />The letters are ours, or we were given the right to make a font of
          them. This is written down with your name and the date.</label
        >
        <p>
          <button class="press" :disabled="!ready || at.busy.value !== ''">{{ at.busy.value || `Make release ${next.number}` }}</button>
        </p>
      </form>
    </section>
    <section v-for="r in face.releases" :key="r.number" class="mt-8 border-t border-rule pt-4">
      <h2>Release {{ r.number }}</h2>
      <p class="note">{{ r.by }}, {{ r.day }}</p>
      <p v-if="r.notes" class="quote mt-2">{{ r.notes }}</p>
      <p v-if="r.added.length > 0" class="mt-1 break-words">Added: {{ short(r.added) }}</p>
      <p v-if="r.changed.length > 0" class="mt-1">Changed: {{ short(r.changed.map((c) => c.name)) }}</p>
      <p class="mt-2">
        <a class="link" :href="at.kitAddress(r.number)" download>Fonts, source and terms of release {{ r.number }}</a>
      </p>
      <p class="note mt-1">
        <template v-for="(f, i) in r.files" :key="f.name"
          >{{ i > 0 ? ', ' : ''
          }}<RouterLink v-if="f.faceId" class="link" :to="{ path: '/library', query: { face: f.faceId } }">{{ f.name }}</RouterLink
          ><span v-else>{{ f.name }}</span> {{ size(f.bytes) }}</template
        >
      </p>
      <p v-if="r.files.some((f) => f.faceId)" class="mt-2 flex gap-3">
        <RouterLink class="press-quiet" :to="{ path: '/places/check', query: { faces: r.files.find((f) => f.faceId)!.faceId! } }"
          >Put it at a place</RouterLink
        >
      </p>
    </section>
  </div>
</template>
