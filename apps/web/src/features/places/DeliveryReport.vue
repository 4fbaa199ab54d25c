<script setup lang="ts">
import type { ChangedFamilies, Delivery, Job } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { call, routes, sentence, watchJob } from '../../platform/api';
import ProgressLine from '../../platform/ProgressLine.vue';
import { useLibrary } from '../library/library';
import { useVoice } from '../../platform/voice';
import { count } from '../../platform/words';
import DeliveryItems from './DeliveryItems.vue';

/** One delivery, or all that were sent off together. */
const props = defineProps<{ deliveryId?: string; batchId?: string }>();
const library = useLibrary();
const voice = useVoice();
const deliveries = ref<Delivery[]>([]);
const jobs = ref<Record<string, Job>>({});
const problem = ref('');
let stops: (() => void)[] = [];
const isRunning = (d: Delivery): boolean => d.state === 'queued' || d.state === 'running';
const running = computed(() => deliveries.value.some(isRunning));
const one = computed(() => (deliveries.value.length === 1 ? deliveries.value[0]! : null));
const items = computed(() => deliveries.value.flatMap((d) => d.items));
const off = computed(() => deliveries.value[0]?.errand === 'withdraw');
const done = computed(() => items.value.filter((i) => i.state === 'installed' || i.state === 'removed'));
const unknown = computed(() => items.value.filter((i) => i.state === 'unknown'));
const title = computed(() => {
  if (deliveries.value.length === 0) return 'Delivery';
  const where = one.value?.place ?? count(deliveries.value.length, 'place');
  if (off.value) {
    if (running.value) return `Coming off ${where}`;
    return done.value.length === items.value.length ? `Off ${where}` : `${done.value.length} of ${items.value.length} are off ${where}`;
  }
  if (running.value) return `On its way to ${where}`;
  if (done.value.length === items.value.length)
    return items.value.length === 1
      ? `It is on ${where}`
      : one.value
        ? `All ${done.value.length} are on ${where}`
        : `All is at its ${where}`;
  if (done.value.length === 0 && unknown.value.length > 0) return `${where} fell silent`;
  if (done.value.length === 0) return one.value ? `${where} did not take it` : 'No place took anything';
  return one.value
    ? `${done.value.length} of ${items.value.length} are on ${where}`
    : `${done.value.length} of ${items.value.length} went where they should`;
});
/** Whether the place has an address that a browser opens. */
const looks = computed(() => deliveries.value.filter((d) => /^https?:/.test(d.address) && d.items.some((i) => i.state === 'installed')));
const doneOf = (d: Delivery): number => jobs.value[d.jobId]?.done ?? (isRunning(d) ? 0 : d.items.length);

async function takeOver(changed: ChangedFamilies): Promise<void> {
  library.takeOver(changed);
  await library.loadPlaces();
}
async function load(): Promise<void> {
  try {
    let changed: ChangedFamilies | null;
    if (props.batchId) {
      const now = await call(routes.getDeliveries, { params: { batchId: props.batchId } });
      deliveries.value = now.deliveries;
      changed = now.changed;
    } else {
      const now = await call(routes.getDelivery, { params: { deliveryId: props.deliveryId! } });
      deliveries.value = [now];
      changed = now.changed;
    }
    if (changed) await takeOver(changed);
    for (const stop of stops) stop();
    stops = deliveries.value.filter(isRunning).map((d) =>
      watchJob(d.jobId, (now) => {
        jobs.value[d.jobId] = now;
        if (now.state === 'queued' || now.state === 'running') return;
        voice.say(now.message);
        void load();
      }),
    );
  } catch (error) {
    problem.value = sentence(error);
  }
}
const looking = ref(false);
async function lookAgain(): Promise<void> {
  looking.value = true;
  problem.value = '';
  try {
    for (const d of deliveries.value.filter((x) => x.items.some((i) => i.state === 'unknown'))) {
      const now = await call(routes.lookAgain, { params: { deliveryId: d.id } });
      deliveries.value = deliveries.value.map((x) => (x.id === d.id ? now : x));
      await takeOver(now.changed);
    }
    voice.say('Looked again.');
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    looking.value = false;
  }
}
watch(() => props.batchId ?? props.deliveryId, load, { immediate: true });
onBeforeUnmount(() => {
  for (const stop of stops) stop();
});
</script>

<template>
  <div class="mx-auto max-w-4xl px-6 py-8 max-sm:px-4">
    <h1>{{ title }}</h1>
    <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
    <template v-if="deliveries.length > 0">
      <div v-if="running" class="mt-4">
        <div v-for="d in deliveries" :key="d.id" class="mt-2">
          <p v-if="!one" class="note">{{ d.place }}</p>
          <ProgressLine :done="doneOf(d)" :total="jobs[d.jobId]?.total ?? d.items.length" :label="off ? 'Taken off' : 'Delivered'" />
        </div>
        <p class="note mt-2">
          {{ off ? 'Taking off, and looking whether it is gone.' : 'Converting, sending, reading back and comparing.' }} You can leave this
          page; it goes on.
        </p>
      </div>
      <div v-else class="mt-4 flex flex-wrap gap-3">
        <button v-if="unknown.length > 0" type="button" class="press" :disabled="looking" @click="lookAgain">
          {{ looking ? 'Looking …' : unknown.length === 1 ? 'Look for it again' : `Look for ${unknown.length} files again` }}
        </button>
        <a v-for="d in looks" :key="d.id" class="press" :href="d.address" target="_blank" rel="noopener">{{
          one ? 'Look at it there' : `Look at ${d.place}`
        }}</a>
        <RouterLink
          v-if="!off"
          class="press-quiet"
          :to="{ path: '/handover', query: { faces: [...new Set(items.map((i) => i.faceId))].join(',') } }"
          >Web kit for a site’s builder</RouterLink
        >
        <RouterLink class="press-quiet" to="/places">All places</RouterLink>
        <RouterLink class="press-quiet" to="/library">Back to the library</RouterLink>
      </div>
      <section v-for="d in deliveries" :key="d.id" class="mt-6" :aria-label="d.place">
        <h2 v-if="!one" class="mb-2">{{ d.place }}</h2>
        <DeliveryItems :delivery="d" />
      </section>
      <p v-if="!off" class="note mt-4">
        {{ count(items.filter((i) => i.statement).length, 'statement') }} kept with this delivery. They do not change when a license does.
      </p>
    </template>
  </div>
</template>
