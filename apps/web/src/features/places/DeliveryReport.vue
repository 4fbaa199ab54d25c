<script setup lang="ts">
import type { ChangedFamilies, Delivery, Job } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { call, routes, sentence, watchJob } from '../../platform/api';
import LiveText from '../faces/LiveText.vue';
import ProgressLine from '../../platform/ProgressLine.vue';
import { useLibrary } from '../library/library';
import { useVoice } from '../../platform/voice';
import { count, size } from '../../platform/words';

const props = defineProps<{ deliveryId: string }>();
const library = useLibrary();
const voice = useVoice();
const delivery = ref<Delivery | null>(null);
const job = ref<Job | null>(null);
const problem = ref('');
let stopWatching: (() => void) | null = null;
const running = computed(() => delivery.value?.state === 'queued' || delivery.value?.state === 'running');
const installed = computed(() => delivery.value?.items.filter((i) => i.state === 'installed') ?? []);
const unknown = computed(() => delivery.value?.items.filter((i) => i.state === 'unknown') ?? []);
const title = computed(() => {
  if (!delivery.value) return 'Delivery';
  if (running.value) return `On its way to ${delivery.value.place}`;
  if (installed.value.length === delivery.value.items.length)
    return installed.value.length === 1
      ? `It is on ${delivery.value.place}`
      : `All ${installed.value.length} are on ${delivery.value.place}`;
  if (installed.value.length === 0 && unknown.value.length > 0) return `${delivery.value.place} fell silent`;
  return installed.value.length === 0
    ? `${delivery.value.place} did not take it`
    : `${installed.value.length} of ${delivery.value.items.length} are on ${delivery.value.place}`;
});

/** Whether the place has an address that a browser opens. */
const look = computed(() => /^https?:/.test(delivery.value?.address ?? ''));

async function takeOver(changed: ChangedFamilies): Promise<void> {
  library.takeOver(changed);
  await library.loadPlaces();
}
async function load(): Promise<void> {
  try {
    const now = await call(routes.getDelivery, { params: { deliveryId: props.deliveryId } });
    delivery.value = now;
    if (now.changed) await takeOver(now.changed);
    if (!running.value) return;
    stopWatching?.();
    stopWatching = watchJob(delivery.value.jobId, (now) => {
      job.value = now;
      if (now.state === 'queued' || now.state === 'running') return;
      voice.say(now.message);
      void load();
    });
  } catch (error) {
    problem.value = sentence(error);
  }
}
const looking = ref(false);
async function lookAgain(): Promise<void> {
  looking.value = true;
  problem.value = '';
  try {
    const now = await call(routes.lookAgain, { params: { deliveryId: props.deliveryId } });
    delivery.value = now;
    voice.say('Looked again.');
    await takeOver(now.changed);
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    looking.value = false;
  }
}
watch(() => props.deliveryId, load, { immediate: true });
onBeforeUnmount(() => stopWatching?.());
const at = (iso: string): string => new Date(iso).toLocaleString('en-US', { dateStyle: 'long', timeStyle: 'short' });
</script>

<template>
  <div class="mx-auto max-w-4xl px-6 py-8 max-sm:px-4">
    <h1>{{ title }}</h1>
    <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
    <template v-if="delivery">
      <div v-if="running" class="mt-4">
        <ProgressLine :done="job?.done ?? 0" :total="job?.total ?? delivery.items.length" label="Delivered" />
        <p class="note mt-2">Converting, sending, reading back and comparing. You can leave this page; it goes on.</p>
      </div>
      <div v-else class="mt-4 flex flex-wrap gap-3">
        <button v-if="unknown.length > 0" type="button" class="press" :disabled="looking" @click="lookAgain">
          {{ looking ? 'Looking …' : unknown.length === 1 ? 'Look for it again' : `Look for ${unknown.length} files again` }}
        </button>
        <a v-if="installed.length > 0 && look" class="press" :href="delivery.address" target="_blank" rel="noopener">Look at the website</a>
        <RouterLink class="press-quiet" :to="{ path: '/handover', query: { faces: delivery.items.map((i) => i.faceId).join(',') } }"
          >Web kit for the site’s builder</RouterLink
        >
        <RouterLink class="press-quiet" to="/library">Back to the library</RouterLink>
      </div>
      <ol class="mt-6 border-t border-rule">
        <li v-for="i in delivery.items" :key="i.faceId" class="border-b border-rule py-5">
          <p class="overflow-hidden text-[40px] leading-[56px] whitespace-nowrap">
            <LiveText v-if="library.faces.get(i.faceId)" :face="library.faces.get(i.faceId)!.face" :text="i.face" />
          </p>
          <p
            class="border-l-4 px-4 py-1"
            :class="
              {
                installed: 'border-yes bg-yes-pale',
                refused: 'border-no bg-no-pale',
                unknown: 'border-ask bg-ask-pale',
                waiting: 'border-rule-strong',
              }[i.state]
            "
          >
            {{ i.message || 'Waiting its turn.' }}
          </p>
          <p v-if="i.sha256" class="note mt-2">
            {{ size(i.bytes ?? 0) }} · <span class="code">SHA-256 {{ i.sha256 }}</span>
          </p>
          <div class="mt-3">
            <p class="quote">{{ i.statement.words }}</p>
            <p class="note mt-1">
              Stated by {{ i.statement.person }}, {{ at(i.statement.at) }}, resting on
              {{ i.statement.licenseName ?? 'no license on record' }}.{{
                i.statement.overridden
                  ? ` The answer was No; an owner went ahead: ${i.statement.note}`
                  : i.statement.note
                    ? ` Why, although the license does not settle it: ${i.statement.note}`
                    : ''
              }}
            </p>
          </div>
        </li>
      </ol>
      <p class="note mt-4">
        {{ count(delivery.items.length, 'statement') }} kept with this delivery. They do not change when a license does.
      </p>
    </template>
  </div>
</template>
