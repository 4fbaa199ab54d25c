<script setup lang="ts">
import type { Place, PreflightFace } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { useAddress } from '../../platform/address';
import { addressOf, call, routes, sentence } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';

/** What a person does at a place that nothing speaks to: take the kit, follow its lines, confirm. */
const props = defineProps<{ place: Place }>();
const { several } = useAddress();
const library = useLibrary();
const session = useSession();
const voice = useVoice();
const cells = ref<PreflightFace[]>([]);
const notes = ref<Record<string, string>>({});
const done = ref<boolean[]>([]);
const removed = ref<string[]>([]);
const problem = ref('');
const clear = computed(() => cells.value.filter((c) => c.clear));
const allDone = computed(() => props.place.howTo.every((_, i) => done.value[i]));
const lacksNote = computed(() => clear.value.some((c) => c.verdict.answer !== 'yes' && !notes.value[c.faceId]?.trim()));
watch(
  () => several('faces').join(','),
  async () => {
    cells.value = [];
    const faceIds = several('faces');
    if (faceIds.length === 0) return;
    try {
      const found = await call(routes.checkForPlaces, { body: { faceIds, placeIds: [props.place.id], mendAll: true } });
      cells.value = found.cells;
    } catch (error) {
      problem.value = sentence(error);
    }
  },
  { immediate: true },
);
const kit = computed(() =>
  addressOf(routes.getPlaceKit, { params: { placeId: props.place.id }, query: { faces: clear.value.map((c) => c.faceId).join(',') } }),
);
async function confirm(): Promise<void> {
  problem.value = '';
  try {
    const { changed } = await call(routes.confirmByHand, {
      params: { placeId: props.place.id },
      body: {
        put: allDone.value
          ? clear.value.map((c) => ({
              faceId: c.faceId,
              remedies: c.chosen,
              statement: c.statement,
              note: notes.value[c.faceId]?.trim() ?? '',
            }))
          : [],
        removed: removed.value,
      },
    });
    library.takeOver(changed);
    await library.loadPlaces();
    voice.say('Kept as done by hand.');
    cells.value = [];
    removed.value = [];
    done.value = [];
  } catch (error) {
    problem.value = sentence(error);
  }
}
</script>

<template>
  <section aria-labelledby="by-hand">
    <h2 id="by-hand">By hand</h2>
    <p v-if="cells.length === 0" class="note mt-1">Check faces for this place; its kit and its list stand here then.</p>
    <template v-else>
      <p v-for="c in cells.filter((x) => !x.clear)" :key="c.faceId" class="mt-2 border-l-4 border-no bg-no-pale px-4 py-2">
        {{ c.face }} cannot go there: {{ c.findings.find((f) => f.severity === 'stops')?.message }}
      </p>
      <template v-if="clear.length > 0">
        <p class="mt-3">
          <a class="press" :href="kit" download>Take the kit for {{ clear.length === 1 ? clear[0]!.face : `${clear.length} faces` }}</a>
        </p>
        <ol class="mt-3 flex flex-col gap-1">
          <li v-for="(line, i) in place.howTo" :key="line">
            <label class="flex items-start gap-2"><input v-model="done[i]" type="checkbox" class="mt-1 accent-action" />{{ line }}</label>
          </li>
        </ol>
        <div v-for="c in clear" :key="c.faceId" class="mt-3">
          <p class="quote">{{ c.statement }}</p>
          <label v-if="c.verdict.answer !== 'yes'" class="mt-2 block"
            >Why do you go ahead?<textarea v-model="notes[c.faceId]" class="field" rows="2" maxlength="1000"></textarea>
          </label>
        </div>
      </template>
    </template>
    <fieldset v-if="place.installs.length > 0 && session.canEdit" class="mt-4">
      <legend class="note">Taken off by hand</legend>
      <label v-for="i in place.installs" :key="i.id" class="flex items-center gap-2"
        ><input v-model="removed" type="checkbox" :value="i.id" class="accent-action" />{{ i.face }}</label
      >
    </fieldset>
    <p v-if="problem" role="alert" class="mt-3 text-no">{{ problem }}</p>
    <button
      v-if="session.canEdit && (clear.length > 0 || place.installs.length > 0)"
      type="button"
      class="press mt-4"
      :disabled="!((clear.length > 0 && allDone && !lacksNote) || removed.length > 0)"
      @click="confirm"
    >
      State this and keep it as done
    </button>
  </section>
</template>
