<script setup lang="ts">
import { routes } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { call } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import { size } from '../../platform/words';
import { useSession } from '../accounts/session';
import { useLibrary } from '../library/library';
import DrawnAnew from './DrawnAnew.vue';
import type { SetAtHand } from './icon-set';

/** What the next release would be, its making, and all that were made. */
const props = defineProps<{ at: SetAtHand }>();
const session = useSession();
const library = useLibrary();
const voice = useVoice();
const set = computed(() => props.at.set.value!);
const notes = ref('');
const may = ref(false);
const meant = ref(false);
const next = computed(() => set.value.next);
const nothing = computed(
  () =>
    next.value.number > 1 &&
    next.value.added.length +
      next.value.changed.length +
      next.value.renamed.length +
      next.value.removed.length +
      next.value.breaks.length ===
      0,
);
const ready = computed(() => set.value.stops.length === 0 && may.value && (next.value.breaks.length === 0 || meant.value));
async function release(): Promise<void> {
  const done = await props.at.carryOut(
    () =>
      call(routes.releaseIcons, {
        params: { setId: set.value.id },
        body: { notes: notes.value, mayRelease: true, breaksMeant: meant.value, version: set.value.version },
      }),
    `Making release ${next.value.number} …`,
  );
  if (!done) return;
  props.at.takeOver(done.set);
  library.takeOver(done.changed);
  notes.value = '';
  may.value = meant.value = false;
  voice.say(`Release ${done.set.releases[0]!.number} is made. Its fonts are in the library; its kit is here.`);
}
const LAYOUTS = [
  { id: 'siblings', name: 'style sheet and fonts in folders side by side' },
  { id: 'nested', name: 'fonts within the folder of the style sheet' },
  { id: 'flat', name: 'all in one folder' },
] as const;
const short = (names: readonly string[]): string =>
  names.length > 12 ? `${names.slice(0, 12).join(', ')} and ${names.length - 12} more` : names.join(', ');
</script>

<template>
  <div class="max-w-3xl">
    <section aria-labelledby="next-release">
      <h2 id="next-release">Release {{ next.number }}</h2>
      <ul class="mt-2 flex flex-col gap-1">
        <li v-if="next.added.length > 0">Added: {{ short(next.added) }}</li>
        <DrawnAnew :changed="next.changed" />
        <li v-if="next.renamed.length > 0">Renamed: {{ short(next.renamed.map((r) => `${r.from} is ${r.to}`)) }}</li>
        <li v-if="next.removed.length > 0">Removed: {{ short(next.removed) }}; their code points stay reserved</li>
        <li v-if="nothing" class="text-soft">Nothing is different from release {{ next.number - 1 }}.</li>
      </ul>
      <p v-for="s in set.stops" :key="s" class="mt-2 border-l-4 border-no bg-no-pale px-3 py-2">{{ s }}</p>
      <div v-if="next.breaks.length > 0" class="mt-3 border-l-4 border-ask bg-ask-pale px-3 py-2">
        <p class="font-semibold">Pages that use release {{ next.number - 1 }} would lose something.</p>
        <p v-for="b in next.breaks.slice(0, 8)" :key="b">{{ b }}</p>
        <p v-if="next.breaks.length > 8">And {{ next.breaks.length - 8 }} more.</p>
      </div>
      <p v-else-if="next.number > 1 && !nothing" class="mt-2 text-yes">Pages that use release {{ next.number - 1 }} keep working.</p>
      <p v-for="w in set.warnings" :key="w" class="mt-2 border-l-4 border-ask bg-ask-pale px-3 py-2">{{ w }}</p>
      <form v-if="session.canEdit && set.drawings.length > 0" class="mt-4 flex flex-col gap-3" @submit.prevent="release">
        <label class="block"
          ><span class="note">A note for whoever uses it</span><textarea v-model="notes" class="field" rows="2" maxlength="2000"></textarea>
        </label>
        <label class="flex items-start gap-2"
          ><input v-model="may" type="checkbox" class="accent-action" />The drawings are ours, or we were given the right to make a font of
          them. This is written down with your name and the date.</label
        >
        <label v-if="next.breaks.length > 0" class="flex items-start gap-2"
          ><input v-model="meant" type="checkbox" class="accent-action" />What pages lose is meant.</label
        >
        <p>
          <button class="press" :disabled="!ready || at.busy.value !== ''">{{ at.busy.value || `Make release ${next.number}` }}</button>
        </p>
      </form>
    </section>
    <section v-for="r in set.releases" :key="r.number" class="mt-8 border-t border-rule pt-4">
      <h2>Release {{ r.number }}</h2>
      <p class="note">{{ r.by }}, {{ r.day }}</p>
      <p v-if="r.notes" class="quote mt-2">{{ r.notes }}</p>
      <ul class="mt-2 flex flex-col gap-1">
        <li v-if="r.added.length > 0">Added: {{ short(r.added) }}</li>
        <li v-if="r.renamed.length > 0">Renamed: {{ short(r.renamed.map((x) => `${x.from} is ${x.to}`)) }}</li>
        <li v-if="r.removed.length > 0">Removed: {{ short(r.removed) }}</li>
        <DrawnAnew :changed="r.changed" />
        <li v-if="r.number > 1">
          {{ r.breaks.length === 0 ? 'Pages that use the release before keep working.' : `Pages lose: ${r.breaks.slice(0, 3).join(' ')}` }}
        </li>
      </ul>
      <p class="mt-3">Everything for a website:</p>
      <ul class="ml-4">
        <li v-for="l in LAYOUTS" :key="l.id">
          <a class="link" :href="at.kitAddress(r.number, l.id)" download>The kit of release {{ r.number }}, {{ l.name }}</a>
        </li>
      </ul>
      <p class="note mt-2">
        <template v-for="(f, i) in r.files" :key="f.name"
          >{{ i > 0 ? ', ' : ''
          }}<RouterLink v-if="f.faceId" class="link" :to="{ path: '/library', query: { face: f.faceId } }">{{ f.name }}</RouterLink
          ><span v-else>{{ f.name }}</span> {{ size(f.bytes) }}</template
        >
      </p>
      <p v-if="r.files.some((f) => f.faceId)" class="mt-2">
        <RouterLink class="press-quiet" :to="{ path: '/places/check', query: { faces: r.files.find((f) => f.faceId)!.faceId! } }"
          >Put it at a place</RouterLink
        >
      </p>
    </section>
  </div>
</template>
