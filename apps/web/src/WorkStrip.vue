<script setup lang="ts">
import type { Job } from '@orderly-glyph/schema';
import { routes } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useSession } from './features/accounts/session';
import { addressOf, cancelWork, dismissWork, findWork, forgetWork, saveFile, sentence, works } from './platform/api';
import ProgressLine from './platform/ProgressLine.vue';
import { useVoice } from './platform/voice';

const session = useSession();
const voice = useVoice();
/** What is over in less than this is not shown: a strip that comes and goes is worse than none. */
const SOON_MS = 700;
const now = ref(Date.now());
let clock = 0;
onMounted(() => (clock = window.setInterval(() => (now.value = Date.now()), 300)));
onBeforeUnmount(() => clearInterval(clock));

watch(
  () => session.session?.workspace?.id,
  (id) => {
    forgetWork();
    if (id) void findWork();
  },
  { immediate: true },
);

const born = new Map<string, number>();
const shown = computed(() =>
  works.value.filter((w) => {
    if (!born.has(w.id)) born.set(w.id, Date.now());
    return now.value - born.get(w.id)! > SOON_MS || isOver(w);
  }),
);
const isOver = (job: Job): boolean => job.state === 'done' || job.state === 'failed';
const said = (job: Job): string => {
  if (job.state === 'done') return job.result === 'file' ? `${job.fileName} is ready` : 'Done while you were away';
  if (job.state === 'failed') return job.message;
  if (job.againAt || job.state === 'queued') return job.message;
  return job.total > 0 ? `${job.done} of ${job.total}` : 'Working on it';
};
async function stop(job: Job): Promise<void> {
  await cancelWork(job.id).catch((error: unknown) => voice.say(sentence(error), 'fault'));
}
function save(job: Job): void {
  saveFile(addressOf(routes.jobResult, { params: { jobId: job.id } }));
  works.value = works.value.filter((w) => w.id !== job.id);
}
</script>

<template>
  <section v-if="shown.length > 0" aria-label="Tasks" class="max-h-40 overflow-y-auto border-t border-rule bg-sheet">
    <ul>
      <li
        v-for="job in shown"
        :key="job.id"
        class="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 gap-y-1 border-b border-rule px-6 py-2 last:border-b-0 max-sm:px-4"
      >
        <p class="min-w-0 truncate text-note">
          <b class="font-semibold">{{ job.title }}</b>
          <span class="ml-3 text-soft" role="status">{{ said(job) }}</span>
        </p>
        <span class="flex gap-2">
          <template v-if="isOver(job)">
            <button v-if="job.state === 'done' && job.result === 'file'" type="button" class="press-quiet" @click="save(job)">
              Download
            </button>
            <RouterLink v-else-if="job.page" :to="job.page" class="press-quiet" @click="dismissWork(job.id)">Open the page</RouterLink>
            <button type="button" class="press-quiet" :aria-label="`Close: ${job.title}`" @click="dismissWork(job.id)">Close</button>
          </template>
          <button v-else type="button" class="press-quiet" :aria-label="`Stop: ${job.title}`" @click="stop(job)">Stop</button>
        </span>
        <ProgressLine v-if="!isOver(job)" class="col-span-2" :done="job.done" :total="job.total" :label="job.title" />
      </li>
    </ul>
  </section>
</template>
