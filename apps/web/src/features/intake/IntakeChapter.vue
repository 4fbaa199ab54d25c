<script setup lang="ts">
import type { Intake } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call, routes, sentence } from '../../platform/api';
import ProgressLine from '../../platform/ProgressLine.vue';
import { filesOfDrop, type Chosen } from '../../platform/files';
import { useSending } from './sending';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import { count, size, when } from '../../platform/words';

const router = useRouter();
const session = useSession();
const voice = useVoice();
const intakes = ref<Intake[] | null>(null);
const problem = ref('');
const over = ref(false);
const sending = useSending();
let here = true;

const waiting = computed(() => intakes.value?.filter((i) => i.state === 'waiting' && i.uploads.length > 0) ?? []);
const past = computed(() => intakes.value?.filter((i) => i.state !== 'waiting') ?? []);

async function load(): Promise<void> {
  try {
    intakes.value = await call(routes.listIntakes);
  } catch (error) {
    problem.value = sentence(error);
  }
}

/** Sends what was chosen; whoever is still here when it is through sees its report. */
async function send(chosen: Chosen[]): Promise<void> {
  const id = await sending.send(chosen);
  if (!id) return;
  if (here) await router.push(`/intake/${id}`);
  else voice.say('It was sent and is being sorted.', 'told', { label: 'See the report', run: () => void router.push(`/intake/${id}`) });
}

function pick(event: Event): void {
  const input = event.target as HTMLInputElement;
  const chosen = [...(input.files ?? [])].map((file) => ({ file, path: file.webkitRelativePath || file.name }));
  input.value = '';
  void send(chosen);
}

let depth = 0;
const carriesFiles = (event: DragEvent): boolean => event.dataTransfer?.types.includes('Files') ?? false;
const onEnter = (event: DragEvent): void => {
  if (!carriesFiles(event) || !session.canEdit) return;
  depth++;
  over.value = true;
};
const onLeave = (): void => {
  depth = Math.max(0, depth - 1);
  if (depth === 0) over.value = false;
};
const onOver = (event: DragEvent): void => event.preventDefault();
const onDrop = (event: DragEvent): void => {
  event.preventDefault();
  depth = 0;
  over.value = false;
  if (!session.canEdit || sending.now || !event.dataTransfer) return;
  void filesOfDrop(event.dataTransfer).then(send);
};
onMounted(() => {
  void load();
  addEventListener('dragenter', onEnter);
  addEventListener('dragleave', onLeave);
  addEventListener('dragover', onOver);
  addEventListener('drop', onDrop);
});
onBeforeUnmount(() => {
  here = false;
  removeEventListener('dragenter', onEnter);
  removeEventListener('dragleave', onLeave);
  removeEventListener('dragover', onOver);
  removeEventListener('drop', onDrop);
});

async function startWaiting(intake: Intake): Promise<void> {
  try {
    await call(routes.startIntake, { params: { intakeId: intake.id } });
    await router.push(`/intake/${intake.id}`);
  } catch (error) {
    voice.say(sentence(error), 'fault');
    await load();
  }
}
function summary(i: Intake): string {
  const parts = [
    i.counts.added ? `${i.counts.added} added` : '',
    i.counts['already-here'] ? `${i.counts['already-here']} here already` : '',
    i.counts.companion ? `${i.counts.companion} kept with them` : '',
    i.counts['set-aside'] ? `${i.counts['set-aside']} set aside` : '',
    i.counts.refused ? `${i.counts.refused} refused` : '',
  ].filter(Boolean);
  return parts.join(', ') || 'nothing in it';
}
</script>

<template>
  <div class="mx-auto max-w-4xl px-6 py-8 max-sm:px-4">
    <h1>Bring in files</h1>
    <template v-if="session.canEdit">
      <div
        v-if="!sending.now"
        class="mt-5 border-2 border-dashed px-8 py-10"
        :class="over ? 'border-action bg-action-pale' : 'border-rule-strong'"
      >
        <p class="font-serif text-[22px] leading-8">
          {{ over ? 'Let go, and it comes in.' : 'Drop a ZIP here just as you downloaded it, or a folder, or single files.' }}
        </p>
        <p class="mt-2 text-soft">
          TTF, OTF, TTC, WOFF and WOFF2. Terms, receipts and pictures that come along are kept with the faces. Anywhere on this page will
          do.
        </p>
        <div class="mt-5 flex flex-wrap gap-3">
          <label class="press focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-action"
            >Choose files<input type="file" multiple class="sr-only" aria-label="Choose files" @change="pick"
          /></label>
          <label class="press-quiet focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-action"
            >Choose a folder<input type="file" webkitdirectory class="sr-only" aria-label="Choose a folder" @change="pick"
          /></label>
        </div>
        <p class="note mt-4">At most 100 MiB a font, 500 MiB and 5,000 files a bundle.</p>
      </div>
      <div v-else class="mt-5 border-y border-rule py-6">
        <p class="font-serif text-[22px] leading-8">Sending {{ sending.now.name }}</p>
        <ProgressLine class="mt-3" :done="sending.now.done" :total="sending.now.total" label="Sent" />
        <div class="mt-2 flex items-center justify-between">
          <p class="note">
            {{ size(sending.now.done) }} of {{ size(sending.now.total)
            }}{{ sending.now.files > 1 ? `, file ${sending.now.file} of ${sending.now.files}` : '' }}. You can leave this page; it goes on.
          </p>
          <button type="button" class="press-quiet" @click="sending.stop()">Stop sending</button>
        </div>
      </div>
    </template>
    <p v-else class="mt-3">You may look at what came in; an editor or owner brings files in.</p>
    <p v-if="problem || sending.problem" role="alert" class="mt-4 border-l-2 border-no bg-no-pale px-3 py-2">
      {{ problem || sending.problem }}
    </p>

    <section v-if="waiting.length > 0" class="mt-8" aria-labelledby="waiting">
      <h2 id="waiting">Waiting to be sorted</h2>
      <ul class="mt-2 border-t border-rule">
        <li v-for="i in waiting" :key="i.id" class="flex items-center justify-between gap-4 border-b border-rule py-3">
          <div class="min-w-0">
            <RouterLink class="link" :to="`/intake/${i.id}`">{{ i.label }}</RouterLink>
            <p class="note">{{ size(i.bytes) }}, sent by {{ i.by }} on {{ when(i.createdAt) }}</p>
          </div>
          <button v-if="session.canEdit" type="button" class="press" @click="startWaiting(i)">Sort it</button>
        </li>
      </ul>
    </section>

    <section v-if="past.length > 0" class="mt-8" aria-labelledby="past">
      <h2 id="past">What came in</h2>
      <ul class="mt-2 border-t border-rule">
        <li v-for="i in past" :key="i.id" class="grid grid-cols-[minmax(0,1fr)_auto] gap-x-6 border-b border-rule py-2.5">
          <RouterLink class="link truncate" :to="`/intake/${i.id}`">{{ i.label }}</RouterLink>
          <span class="note">{{ when(i.createdAt) }}, {{ i.by }}</span>
          <span class="note col-span-2">{{
            i.state === 'done'
              ? `${count(i.familyCount, 'family', 'families')}: ${summary(i)}`
              : {
                  queued: 'about to be sorted',
                  running: 'being sorted',
                  failed: 'stopped by a fault; it can be started again',
                  cancelled: 'stopped as asked; it can be started again',
                  waiting: '',
                  done: '',
                }[i.state]
          }}</span>
        </li>
      </ul>
    </section>
    <p v-else-if="intakes !== null && waiting.length === 0" class="mt-8 text-soft">Nothing has come in yet.</p>
  </div>
</template>
