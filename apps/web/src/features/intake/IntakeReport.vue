<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import type { BundleSuggestion, Intake, IntakeItem, Job } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import { ApiProblem, call, routes, sentence, watchJob } from '../../platform/api';
import ProgressLine from '../../platform/ProgressLine.vue';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import { count, size, when } from '../../platform/words';

const props = defineProps<{ intakeId: string }>();
const { param, put } = useAddress();
const router = useRouter();
const session = useSession();
const library = useLibrary();
const voice = useVoice();
const intake = ref<Intake | null>(null);
const items = ref<IntakeItem[]>([]);
const suggestions = ref<BundleSuggestion[]>([]);
const job = ref<Job | null>(null);
const problem = ref('');
let stopWatching: (() => void) | null = null;

const KINDS: { state: IntakeItem['state']; name: string; mark: string }[] = [
  { state: 'refused', name: 'Refused', mark: 'text-no' },
  { state: 'added', name: 'Added', mark: 'text-yes' },
  { state: 'already-here', name: 'Already here', mark: 'text-soft' },
  { state: 'companion', name: 'Kept with them', mark: 'text-action' },
  { state: 'set-aside', name: 'Set aside', mark: 'text-soft' },
  { state: 'waiting', name: 'Not sorted yet', mark: 'text-ask' },
];
const kind = computed(() => param('show'));
const shown = computed(() => {
  const order = new Map(KINDS.map((k, i) => [k.state, i]));
  return items.value.filter((i) => kind.value === '' || i.state === kind.value).sort((a, b) => order.get(a.state)! - order.get(b.state)!);
});
const running = computed(() => intake.value?.state === 'running' || intake.value?.state === 'queued');
const unfinished = computed(
  () => ['waiting', 'cancelled', 'failed'].includes(intake.value?.state ?? '') && (intake.value?.uploads.length ?? 0) > 0,
);

async function load(): Promise<void> {
  try {
    const found = await call(routes.getIntake, { params: { intakeId: props.intakeId } });
    intake.value = found.intake;
    items.value = found.items;
    suggestions.value = found.suggestions;
    if (running.value && found.intake.jobId) follow(found.intake.jobId);
  } catch (error) {
    problem.value = error instanceof ApiProblem && error.status === 404 ? 'This intake is not here any more.' : sentence(error);
  }
}

function follow(jobId: string): void {
  stopWatching?.();
  stopWatching = watchJob(jobId, (now) => {
    job.value = now;
    if (now.state === 'queued' || now.state === 'running') return;
    void load().then(() => voice.say(now.state === 'done' ? now.message : now.message, now.state === 'failed' ? 'fault' : 'told'));
    void library.load();
  });
}
watch(() => props.intakeId, load, { immediate: true });
onBeforeUnmount(() => stopWatching?.());

async function start(): Promise<void> {
  try {
    const started = await call(routes.startIntake, { params: { intakeId: props.intakeId } });
    if (intake.value) intake.value.state = 'queued';
    follow(started.id);
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
async function tryAgain(item: IntakeItem): Promise<void> {
  try {
    const started = await call(routes.retryItem, { params: { intakeId: props.intakeId, itemId: item.id } });
    if (intake.value) intake.value.state = 'queued';
    follow(started.id);
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
async function stop(): Promise<void> {
  if (job.value)
    await call(routes.cancelJob, { params: { jobId: job.value.id } }).catch((error: unknown) => voice.say(sentence(error), 'fault'));
}
async function discard(): Promise<void> {
  try {
    await call(routes.discardIntake, { params: { intakeId: props.intakeId } });
    await router.push('/intake');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const show = (state: string): void => put({ show: state });

const scroller = ref<HTMLElement | null>(null);
const virtual = useVirtualizer(
  computed(() => ({ count: shown.value.length, getScrollElement: () => scroller.value, estimateSize: () => 58, overscan: 8 })),
);
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="flex h-full min-w-0 flex-1 flex-col max-lg:min-h-[80vh]">
      <div class="border-b border-rule px-6 pt-5 pb-3 max-sm:px-4">
        <RouterLink to="/intake" class="link text-note">Intake</RouterLink>
        <template v-if="intake">
          <h1 class="truncate" :title="intake.label">{{ intake.label }}</h1>
          <p class="note">{{ size(intake.bytes) }}, brought in by {{ intake.by }} on {{ when(intake.createdAt) }}</p>
        </template>
        <div v-if="running" class="mt-3">
          <p>
            {{
              job?.state === 'running' && job.total > 0
                ? `Sorting file ${Math.min(job.done + 1, job.total)} of ${job.total}`
                : job?.message || 'About to begin'
            }}
          </p>
          <ProgressLine class="mt-2" :done="job?.done ?? 0" :total="job?.total ?? 0" label="Sorted" />
          <div class="mt-2 flex items-center justify-between gap-4">
            <p class="note truncate">{{ job?.message }}. You can leave this page; it goes on.</p>
            <button v-if="session.canEdit" type="button" class="press-quiet" @click="stop">Stop</button>
          </div>
        </div>
        <div v-else-if="unfinished" class="mt-3 flex flex-wrap items-center gap-3">
          <p class="mr-2">
            {{
              intake?.state === 'waiting'
                ? 'It was sent and waits to be sorted.'
                : 'It stopped before its end. What was sorted stays; the rest can go on.'
            }}
          </p>
          <button v-if="session.canEdit" type="button" class="press" @click="start">
            {{ intake?.state === 'waiting' ? 'Sort it' : 'Go on' }}
          </button>
          <button v-if="session.canEdit && intake?.state === 'waiting'" type="button" class="press-quiet" @click="discard">
            Throw it away
          </button>
        </div>
        <div v-if="items.length > 0" class="mt-3 flex flex-wrap gap-x-5 gap-y-1" role="group" aria-label="Show">
          <button
            type="button"
            class="border-b-2 text-note"
            :class="kind === '' ? 'border-ink font-semibold' : 'border-transparent'"
            :aria-pressed="kind === ''"
            @click="show('')"
          >
            All {{ items.length }}
          </button>
          <template v-for="k in KINDS" :key="k.state">
            <button
              v-if="intake?.counts[k.state]"
              type="button"
              class="border-b-2 text-note"
              :class="[kind === k.state ? 'border-ink font-semibold' : 'border-transparent', k.mark]"
              :aria-pressed="kind === k.state"
              @click="show(k.state)"
            >
              {{ k.name }} {{ intake.counts[k.state] }}
            </button>
          </template>
        </div>
      </div>
      <p v-if="problem" class="p-6">{{ problem }} <RouterLink class="link" to="/intake">Back to the intake</RouterLink></p>
      <p v-else-if="intake && intake.state === 'done' && items.length === 0" class="p-6">There was nothing in it.</p>
      <ul v-else-if="intake && items.length === 0" class="p-6">
        <li v-for="u in intake.uploads" :key="u.id">
          {{ u.name }} <span class="note">{{ size(u.bytes) }}</span>
        </li>
      </ul>
      <div v-else ref="scroller" class="min-h-0 flex-1 overflow-y-auto" tabindex="0" aria-label="Files of this intake">
        <ul class="relative" :style="{ height: `${virtual.getTotalSize()}px` }">
          <li
            v-for="row in virtual.getVirtualItems()"
            :key="shown[row.index]!.id"
            class="absolute inset-x-0 top-0 grid grid-cols-[8.5rem_minmax(0,1fr)_auto] items-baseline gap-4 border-b border-rule px-6 py-2 max-sm:grid-cols-[5.5rem_minmax(0,1fr)] max-sm:px-4"
            :style="{ height: `${row.size}px`, transform: `translateY(${row.start}px)` }"
          >
            <span class="text-note font-semibold" :class="KINDS.find((k) => k.state === shown[row.index]!.state)!.mark">{{
              KINDS.find((k) => k.state === shown[row.index]!.state)!.name
            }}</span>
            <span class="min-w-0">
              <RouterLink
                v-if="shown[row.index]!.faceId"
                class="link block truncate"
                :to="{ path: '/library', query: { face: shown[row.index]!.faceId } }"
                :title="shown[row.index]!.path"
                >{{ shown[row.index]!.path }}</RouterLink
              >
              <span v-else class="block truncate" :title="shown[row.index]!.path">{{ shown[row.index]!.path }}</span>
              <span class="note block truncate" :title="shown[row.index]!.reason">{{ shown[row.index]!.reason }}</span>
            </span>
            <button
              v-if="shown[row.index]!.again && session.canEdit && !running"
              type="button"
              class="press-quiet"
              :aria-label="`Try again: ${shown[row.index]!.path}`"
              @click="tryAgain(shown[row.index]!)"
            >
              Try again
            </button>
            <span v-else class="note max-sm:hidden">{{ size(shown[row.index]!.bytes) }}</span>
          </li>
        </ul>
      </div>
    </div>
    <aside
      aria-label="What to do next"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-5 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <h2>What next</h2>
      <template v-if="intake?.state === 'done'">
        <p class="mt-2">
          {{ intake.familyCount === 0 ? 'No face came of this.' : `${count(intake.familyCount, 'family', 'families')} on the shelf.` }}
        </p>
        <section v-for="s in suggestions" :key="s.companionId" class="mt-5 border-t border-rule pt-4">
          <h3 class="break-words">{{ s.companionName }}</h3>
          <p v-if="s.suggestion?.basis === 'text'" class="mt-1">
            It reads as the {{ s.suggestion.name }}, every clause word for word.{{
              s.suggestion.doubt ? ` Beside it stands: “${s.suggestion.doubt}”` : ''
            }}
          </p>
          <p v-else-if="s.suggestion" class="mt-1">
            It names the {{ s.suggestion.name }} and does not hold its text.{{ s.suggestion.doubt ? ` ${s.suggestion.doubt}` : '' }}
          </p>
          <p v-else class="mt-1">It says in its own words what may be done. Its sentences are shown beside the uses they bear on.</p>
          <p v-if="s.faceIds.length > 0" class="mt-2">
            <b class="font-semibold">Counts for</b> {{ count(s.faceIds.length, 'face') }} of {{ s.families.join(', ') }}.
          </p>
          <p v-else-if="s.settled > 0" class="note mt-2">
            {{ count(s.settled, 'face') }} it counts for {{ s.settled === 1 ? 'has' : 'have' }} a license on record.
          </p>
          <p v-else class="note mt-2">It is offered for no face.</p>
          <ul v-if="s.left.length > 0" class="mt-1">
            <li v-for="l in s.left" :key="l.family + l.reason" class="note">
              <b class="font-semibold text-ink">Left out:</b> {{ l.family }}, {{ count(l.faces, 'face') }}. {{ l.reason }}
            </li>
          </ul>
          <p v-if="s.suggestion && s.suggestion.reservedNames.length > 0" class="note mt-1">
            Reserved names: {{ s.suggestion.reservedNames.join(', ') }}.
          </p>
          <RouterLink
            v-if="session.canEdit && s.faceIds.length > 0"
            class="press mt-3"
            :to="{ path: '/licenses/new', query: { intake: intakeId, text: s.companionId } }"
            >Look and confirm</RouterLink
          >
        </section>
        <RouterLink
          class="mt-5"
          :class="suggestions.length > 0 ? 'press-quiet' : 'press'"
          :to="{ path: '/library', query: items.find((i) => i.faceId) ? { face: items.find((i) => i.faceId)!.faceId } : {} }"
          >See them in your words</RouterLink
        >
      </template>
      <p v-else-if="running" class="mt-2 text-soft">When the sorting is done, the next step stands here.</p>
      <p v-else class="mt-2 text-soft">Sort the files; each one is looked into, whatever its name says.</p>
    </aside>
  </div>
</template>
