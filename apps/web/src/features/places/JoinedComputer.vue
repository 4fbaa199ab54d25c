<script setup lang="ts">
import type { Answer, Place, PreflightFace } from '@orderly-glyph/schema';
import { computed, onMounted, ref, watch } from 'vue';
import { useAddress } from '../../platform/address';
import { call, routes, sentence } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import { when } from '../../platform/words';
import { useSession } from '../accounts/session';
import { useLibrary } from '../library/library';

/** A computer that fetches its faces itself: how it joins, when it asked last, and what is assigned to it. */
const props = defineProps<{ place: Place }>();
const { several, put } = useAddress();
const library = useLibrary();
const session = useSession();
const voice = useVoice();
const computer = ref<Answer<typeof routes.getComputer> | null>(null);
const code = ref<Answer<typeof routes.computerCode> | null>(null);
const problem = ref('');
const cells = ref<PreflightFace[]>([]);
const notes = ref<Record<string, string>>({});
const clear = computed(() => cells.value.filter((c) => c.clear));
const lacksNote = computed(() => clear.value.some((c) => c.verdict.answer !== 'yes' && !notes.value[c.faceId]?.trim()));
const line = computed(() => (code.value ? `glyph computer join ${location.origin} ${code.value.code}` : ''));

async function load(): Promise<void> {
  try {
    computer.value = await call(routes.getComputer, { params: { placeId: props.place.id } });
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);
async function makeCode(): Promise<void> {
  problem.value = '';
  try {
    code.value = await call(routes.computerCode, { params: { placeId: props.place.id } });
  } catch (error) {
    problem.value = sentence(error);
  }
}
watch(
  () => several('faces').join(','),
  async () => {
    cells.value = [];
    const faceIds = several('faces');
    if (faceIds.length === 0) return;
    try {
      cells.value = (await call(routes.checkForPlaces, { body: { faceIds, placeIds: [props.place.id], mendAll: true } })).cells;
    } catch (error) {
      problem.value = sentence(error);
    }
  },
  { immediate: true },
);
async function assign(removed: string[]): Promise<void> {
  problem.value = '';
  try {
    const { changed } = await call(routes.confirmByHand, {
      params: { placeId: props.place.id },
      body: {
        put:
          removed.length > 0
            ? []
            : clear.value.map((c) => ({
                faceId: c.faceId,
                remedies: c.chosen,
                statement: c.statement,
                note: notes.value[c.faceId]?.trim() ?? '',
              })),
        removed,
      },
    });
    library.takeOver(changed);
    await Promise.all([library.loadPlaces(), load()]);
    if (removed.length === 0) put({ faces: undefined });
    voice.say(removed.length > 0 ? 'It comes off when the computer asks next.' : 'Assigned. The computer fetches it when it asks next.');
  } catch (error) {
    problem.value = sentence(error);
  }
}
defineExpose({ withdraw: (installId: string) => assign([installId]) });
</script>

<template>
  <section aria-labelledby="joined">
    <h2 id="joined">The computer</h2>
    <p v-if="computer?.joinedAt" class="mt-1">
      {{ computer.system }}, joined {{ when(computer.joinedAt) }};
      {{ computer.syncedAt ? `it asked last on ${when(computer.syncedAt)}` : 'it has not asked yet' }}.
    </p>
    <p v-else-if="computer" class="mt-1 text-soft">It has not joined yet.</p>
    <template v-if="session.isOwner">
      <button v-if="!code" type="button" class="press-quiet mt-2" @click="makeCode">
        {{ computer?.joinedAt ? 'Join it anew with a code' : 'Make a code to join with' }}
      </button>
      <div v-else class="mt-2">
        <p>Type this on that computer within a quarter of an hour; the code holds once:</p>
        <p class="code mt-1 border border-rule bg-sheet px-3 py-2 select-all">{{ line }}</p>
        <p class="note mt-1">Then, now and whenever something changed: <span class="code">glyph computer sync</span></p>
      </div>
    </template>
    <p v-for="c in cells.filter((x) => !x.clear)" :key="c.faceId" class="mt-3 border-l-4 border-no bg-no-pale px-4 py-2">
      {{ c.face }} cannot go there: {{ c.findings.find((f) => f.severity === 'stops')?.message }}
    </p>
    <div v-for="c in clear" :key="c.faceId" class="mt-3">
      <p class="quote">{{ c.statement }}</p>
      <label v-if="c.verdict.answer !== 'yes'" class="mt-2 block"
        >Why do you go ahead?<textarea v-model="notes[c.faceId]" class="field" rows="2" maxlength="1000"></textarea>
      </label>
    </div>
    <p v-if="problem" role="alert" class="mt-3 text-no">{{ problem }}</p>
    <button v-if="session.canEdit && clear.length > 0" type="button" class="press mt-3" :disabled="lacksNote" @click="assign([])">
      State this and assign {{ clear.length === 1 ? 'it' : `${clear.length} faces` }}
    </button>
  </section>
</template>
