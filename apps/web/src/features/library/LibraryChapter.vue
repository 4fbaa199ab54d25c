<script setup lang="ts">
import { Star } from '@lucide/vue';
import { useVirtualizer } from '@tanstack/vue-virtual';
import {
  filterFor,
  KIND_LABELS,
  queryToWanted,
  isSure,
  USE_WORDS,
  wanted as wantedSchema,
  wantedToQuery,
  type Face,
  type Wanted,
} from '@orderly-glyph/schema';
import { useMediaQuery, watchDebounced } from '@vueuse/core';
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import { call, routes, sentence, watchJob } from '../../platform/api';
import FaceMargin from './FaceMargin.vue';
import FilterSentence from './FilterSentence.vue';
import LibraryNav from './LibraryNav.vue';
import LiveText from '../faces/LiveText.vue';
import ProofLine from '../faces/ProofLine.vue';
import VerdictMark from '../licenses/VerdictMark.vue';
import { useLibrary, type FaceLine, type Family } from './library';
import { useProofLine } from '../faces/proof-line';
import { useSession } from '../accounts/session';
import { useTray } from './tray';
import { count, list } from '../../platform/words';

const library = useLibrary();
const session = useSession();
const tray = useTray();
const route = useRoute();
const router = useRouter();

const { param, put } = useAddress();
const proofLine = useProofLine();
const text = ref('text' in route.query ? param('text') : proofLine.text);
watch(text, (words) => (proofLine.text = words));
const size = ref(Math.min(300, Math.max(10, Number(param('size')) || 40)));
const selectedId = computed(() => param('face') || null);
const face = ref<Face | null>(null);
const problem = ref('');

// The address follows what is typed, a moment behind, so that back and reload find it again.
watchDebounced([text, size], () => put({ text: text.value, size: size.value === 40 ? '' : String(size.value) }), { debounce: 250 });
watch(
  () => [route.query.text, route.query.size],
  () => {
    if (route.path !== '/library') return;
    text.value = param('text');
    size.value = Number(param('size')) || 40;
  },
);

/** The sentence lives in the address. A part that makes no sense counts as not asked for. */
const wanted = computed<Wanted>({
  get: () => {
    const parsed = wantedSchema.safeParse(queryToWanted(route.query));
    return parsed.success ? parsed.data : wantedSchema.parse({});
  },
  set: (w) => {
    const cleared = Object.fromEntries(Object.keys(wantedSchema.shape).map((key) => [key, undefined]));
    void router.replace({ query: { ...route.query, ...cleared, ...wantedToQuery(w) } });
  },
});
const shown = computed(() => {
  const w = wanted.value;
  const collection = library.shelf.collections.find((c) => c.id === w.collection);
  return library.families.filter(filterFor(w, collection ? new Set(collection.familyIds) : null, library.scriptNames));
});
const total = computed(() => library.families.filter((f) => !f.archived).length);
const kindNote = (f: Family): string =>
  f.kind === null ? '' : isSure(f.confidence) ? KIND_LABELS[f.kind] : `${KIND_LABELS[f.kind]}, not sure`;
const useWord = computed(() => (wanted.value.use ? USE_WORDS[wanted.value.use].label : 'Website'));
const openFamily = computed(() => (selectedId.value ? (library.faces.get(selectedId.value)?.family.id ?? null) : null));
const lineFace = (family: Family): FaceLine => {
  const chosen = selectedId.value ? family.faces.find((f) => f.id === selectedId.value) : undefined;
  return chosen ?? family.faces.find((f) => f.id === family.leadFaceId)!;
};
const lineText = (family: Family): string => text.value.trim() || family.name;

/** Facts computed anew by a newer version: how far that is, and the list again once it is through. */
const refreshed = ref('');
let unwatch: (() => void) | undefined;
watch(
  () => library.shelf.refreshJobId,
  (jobId) => {
    unwatch?.();
    refreshed.value = '';
    if (!jobId) return;
    unwatch = watchJob(jobId, (job) => {
      refreshed.value = job.total > 0 ? `${job.done} of ${count(job.total, 'file')}` : '';
      if (job.state !== 'queued' && job.state !== 'running') void library.load();
    });
  },
  { immediate: true },
);
onBeforeUnmount(() => unwatch?.());

const scroller = ref<HTMLElement | null>(null);
/** On a narrow screen the name stands under its line. */
const narrow = useMediaQuery('(max-width: 639px)');
const wide = useMediaQuery('(min-width: 1024px)');
const NAME_HEIGHT = 56;
const rowHeight = computed(() =>
  narrow.value ? Math.round(size.value * 1.35) + NAME_HEIGHT + 12 : Math.max(74, Math.round(size.value * 1.4) + 16),
);
const lineHeight = computed(() => (narrow.value ? rowHeight.value - NAME_HEIGHT : rowHeight.value - 8));
const virtual = useVirtualizer(
  computed(() => ({
    count: shown.value.length,
    getScrollElement: () => scroller.value,
    estimateSize: () => rowHeight.value,
    overscan: 4,
    getItemKey: (i: number) => shown.value[i]!.id,
  })),
);
watch(rowHeight, () => virtual.value.measure());

function select(faceId: string): void {
  put({ face: faceId });
}

watch(
  [selectedId, () => library.families],
  async ([id]) => {
    if (!id) {
      face.value = null;
      return;
    }
    try {
      const found = await call(routes.getFace, { params: { faceId: id } });
      if (selectedId.value === id) {
        face.value = found;
        problem.value = '';
      }
    } catch (error) {
      face.value = null;
      problem.value = sentence(error);
    }
  },
  { immediate: true },
);

// A face named in the address comes into view, wherever its line stands.
let shownOnce = '';
watch(
  [openFamily, () => shown.value.length],
  async ([id]) => {
    if (!id || shownOnce === id) return;
    const index = shown.value.findIndex((f) => f.id === id);
    if (index < 0) return;
    shownOnce = id;
    await nextTick();
    virtual.value.scrollToIndex(index, { align: 'auto' });
  },
  { immediate: true, flush: 'post' },
);

async function step(by: number): Promise<void> {
  const at = shown.value.findIndex((f) => f.id === openFamily.value);
  const next = shown.value[Math.min(shown.value.length - 1, Math.max(0, at + by))];
  if (!next) return;
  select(next.leadFaceId);
  virtual.value.scrollToIndex(shown.value.indexOf(next));
  await nextTick();
  document.getElementById(`line-${next.id}`)?.focus();
}
function stepStyle(by: number): void {
  const family = shown.value.find((f) => f.id === openFamily.value);
  if (!family) return;
  const at = family.faces.findIndex((f) => f.id === selectedId.value);
  select(family.faces[(at + by + family.faces.length) % family.faces.length]!.id);
}
const margin = ref<HTMLElement | null>(null);
function backToLine(): void {
  document.getElementById(`line-${openFamily.value}`)?.focus();
}
function leaveMargin(event: KeyboardEvent): void {
  if (event.key !== 'Escape' && (event.key !== 'm' || /^(INPUT|TEXTAREA|SELECT)$/.test((event.target as HTMLElement).tagName))) return;
  event.preventDefault();
  backToLine();
}
function closeMargin(): void {
  const id = openFamily.value;
  put({ face: '' });
  void nextTick(() => document.getElementById(`line-${id}`)?.focus());
}
function onKey(event: KeyboardEvent): void {
  const keys: Record<string, () => void> = {
    ArrowDown: () => void step(1),
    ArrowUp: () => void step(-1),
    ArrowRight: () => stepStyle(1),
    ArrowLeft: () => stepStyle(-1),
    p: () => selectedId.value && tray.toggle(selectedId.value),
    m: () => margin.value?.focus(),
    f: () => {
      const family = shown.value.find((f) => f.id === openFamily.value);
      if (family && session.canEdit) void library.act({ act: 'favorite', familyIds: [family.id], on: !family.favorite });
    },
  };
  const act = keys[event.key];
  if (!act || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  act();
}
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="flex h-full min-w-0 flex-1 flex-col">
      <div class="border-b border-rule px-6 pt-2 pb-1 max-sm:px-4">
        <h1 class="sr-only">Library</h1>
        <LibraryNav class="mb-1" />
        <FilterSentence v-if="library.families.length > 0" v-model="wanted" class="mb-1" :shown="shown.length" :of="total" />
        <ProofLine v-model:text="text" v-model:size="size" :texts="library.readyTexts" />
      </div>
      <p v-if="library.shelf.stale > 0" class="note border-b border-rule px-6 py-1 max-sm:px-4">
        {{ count(library.shelf.stale, 'face is', 'faces are') }} being read again by a newer version; what is new about them appears by
        itself{{ refreshed ? `: ${refreshed}` : '' }}.
      </p>
      <p v-if="library.state === 'loading' || library.state === 'new'" class="p-6 text-soft">Opening the library …</p>
      <div v-else-if="library.state === 'failed'" class="p-6">
        <p>{{ library.problem }}</p>
        <button type="button" class="press mt-3" @click="library.load()">Try again</button>
      </div>
      <div v-else-if="library.families.length === 0" class="max-w-xl p-6">
        <h2>The shelf is empty</h2>
        <p class="mt-2">Bring in a ZIP just as you downloaded it. Its faces will stand here, one family a line, in your own words.</p>
        <RouterLink v-if="session.canEdit" to="/intake" class="press mt-4">Bring in files</RouterLink>
      </div>
      <div v-else-if="shown.length === 0" class="p-6">
        <p>No family fits{{ route.query.q ? ` “${route.query.q}” and` : '' }} the sentence above.</p>
        <RouterLink class="link" :to="{ query: { face: route.query.face, text: route.query.text, size: route.query.size } }"
          >Show all {{ total }}</RouterLink
        >
      </div>
      <div v-else ref="scroller" class="min-h-0 flex-1 overflow-y-auto" @keydown="onKey">
        <ul class="relative" :style="{ height: `${virtual.getTotalSize()}px` }" :aria-label="count(shown.length, 'family', 'families')">
          <li
            v-for="row in virtual.getVirtualItems()"
            :key="String(row.key)"
            class="absolute inset-x-0 top-0 border-b border-rule"
            :class="{ 'bg-action-pale': shown[row.index]!.id === openFamily || tray.hasFamily(shown[row.index]!.id) }"
            :style="{ height: `${row.size}px`, transform: `translateY(${row.start}px)` }"
          >
            <label class="absolute top-1.5 left-1 flex size-6 items-center justify-center max-sm:left-0"
              ><input
                type="checkbox"
                class="accent-action"
                :checked="tray.hasFamily(shown[row.index]!.id)"
                :aria-label="`Pick up ${shown[row.index]!.name}`"
                @change="tray.toggleFamily(shown[row.index]!, lineFace(shown[row.index]!).id)"
            /></label>
            <button
              :id="`line-${shown[row.index]!.id}`"
              type="button"
              class="grid h-full w-full grid-cols-[minmax(0,1fr)_13rem] items-end gap-4 px-6 pb-2 pl-8 text-left -outline-offset-2 max-sm:grid-cols-1 max-sm:content-start max-sm:gap-0 max-sm:pr-4 max-sm:pl-7"
              :aria-current="shown[row.index]!.id === openFamily ? 'true' : undefined"
              @click="select(lineFace(shown[row.index]!).id)"
            >
              <span
                class="block overflow-hidden whitespace-nowrap"
                :style="{
                  fontSize: `${size}px`,
                  height: `${lineHeight}px`,
                  lineHeight: `${lineHeight}px`,
                  marginBottom: narrow ? '0' : '-8px',
                }"
              >
                <LiveText :face="lineFace(shown[row.index]!)" :text="lineText(shown[row.index]!)" />
              </span>
              <span class="block min-w-0">
                <span class="block truncate font-semibold" :title="shown[row.index]!.name"
                  ><Star
                    v-if="shown[row.index]!.favorite"
                    :size="13"
                    class="mr-1 inline fill-current align-[-1px] text-ask"
                    aria-label="Favorite"
                  />{{ shown[row.index]!.name }}</span
                >
                <span class="note block truncate"
                  >{{ count(shown[row.index]!.faces.length, 'style') }} · {{ list(shown[row.index]!.formats.map((f) => f.toUpperCase()))
                  }}{{ kindNote(shown[row.index]!) ? ` · ${kindNote(shown[row.index]!)}` : '' }}</span
                >
                <span class="mt-0.5 flex items-center gap-2 overflow-hidden"
                  ><VerdictMark :answer="shown[row.index]!.verdicts[wanted.use || 'website'] ?? 'ask'" :label="useWord" />
                  <span v-if="shown[row.index]!.labels.length > 0" class="note truncate">{{
                    shown[row.index]!.labels.join(', ')
                  }}</span></span
                >
              </span>
            </button>
          </li>
        </ul>
      </div>
    </div>
    <aside
      v-if="wide || selectedId"
      ref="margin"
      tabindex="-1"
      aria-label="About the selected face"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-4 -outline-offset-2 max-lg:sticky max-lg:bottom-0 max-lg:z-20 max-lg:h-[55vh] max-lg:w-full max-lg:border-t-2 max-lg:border-l-0 max-lg:border-ink"
      @keydown="leaveMargin"
    >
      <button v-if="!wide" type="button" class="link float-right min-h-6" @click="closeMargin">Close</button>
      <div v-if="openFamily && (library.families.find((f) => f.id === openFamily)?.faces.length ?? 0) > 1" class="mb-4">
        <label class="note block" for="style">Style</label>
        <select id="style" class="field" :value="selectedId ?? ''" @change="select(($event.target as HTMLSelectElement).value)">
          <option v-for="f in library.families.find((x) => x.id === openFamily)!.faces" :key="f.id" :value="f.id">{{ f.style }}</option>
        </select>
      </div>
      <FaceMargin v-if="face" :face="face" :text="text.trim()" @choose="select" />
      <p v-else-if="problem" class="text-no">{{ problem }}</p>
      <p v-else class="text-soft">
        Choose a line. Here you will read what the face is, whether you may use it, what it can write, where it is, and what to hand over.
      </p>
    </aside>
  </div>
</template>
