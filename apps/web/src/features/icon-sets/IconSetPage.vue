<script setup lang="ts">
import { routes } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import { call, sentence } from '../../platform/api';
import { filesOfDrop, type Chosen } from '../../platform/files';
import FoundryRooms from '../../platform/FoundryRooms.vue';
import { useVoice } from '../../platform/voice';
import { count } from '../../platform/words';
import { useSession } from '../accounts/session';
import DrawingMargin from './DrawingMargin.vue';
import DrawingSheet from './DrawingSheet.vue';
import { useIconSet } from './icon-set';
import SetCodes from './SetCodes.vue';
import SetFacts from './SetFacts.vue';
import SetReleases from './SetReleases.vue';
import { FINDING_WORDS } from './finding-words';
import SizeOutliers from './SizeOutliers.vue';
import TakeFrom from './TakeFrom.vue';

/** One icon set: its drawings on a sheet, their names and codes, and its releases. */
const props = defineProps<{ setId: string }>();
const at = useIconSet(() => props.setId);
const { set, state, problem, drawings, chosen, selection, taken, busy } = at;
const session = useSession();
const voice = useVoice();
const router = useRouter();
const { param, put } = useAddress();

const VIEWS = [
  { id: '', name: 'Drawings' },
  { id: 'codes', name: 'Names and codes' },
  { id: 'release', name: 'Releases' },
] as const;
const view = computed(() => param('view') ?? '');
function show(id: string): void {
  // What is chosen has no say in a release.
  if (id === 'release') chosen.value = [];
  put({ view: id || undefined });
}
const SIZES = [16, 20, 24, 32, 64, 160] as const;
const size = computed(() => SIZES.find((s) => String(s) === param('size')) ?? 32);
const GROUNDS = [
  { id: '', name: 'ink on paper', ink: 'var(--ink)', paper: 'var(--sheet)' },
  { id: 'turned', name: 'paper on ink', ink: 'var(--sheet)', paper: 'var(--ink)' },
  { id: 'action', name: 'petrol on paper', ink: 'var(--action)', paper: 'var(--sheet)' },
  { id: 'on-action', name: 'paper on petrol', ink: 'var(--on-action)', paper: 'var(--action)' },
] as const;
const ground = computed(() => GROUNDS.find((g) => g.id === (param('ground') ?? '')) ?? GROUNDS[0]);
const order = computed(() => param('order') ?? '');
const search = computed(() => param('q') ?? '');
const shown = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean);
  const code = param('finding');
  const rows = drawings.value.filter(
    (d) =>
      words.every((w) => [d.name, ...d.aliases, ...d.words].some((n) => n.includes(w))) &&
      (!code || d.findings.some((f) => f.code === code)),
  );
  if (order.value === 'name') rows.sort((a, b) => (a.name < b.name ? -1 : 1));
  if (order.value === 'code') rows.sort((a, b) => (a.codePoint ?? 0) - (b.codePoint ?? 0));
  if (order.value === 'size') rows.sort((a, b) => b.looks - a.looks);
  return rows;
});
/** What is to be said of the drawings, each kind once, with how many have it. */
const findings = computed(() => {
  const out = new Map<string, { code: string; severity: string; message: string; ids: string[] }>();
  for (const d of drawings.value)
    for (const f of d.findings) {
      const known = out.get(f.code);
      if (known) known.ids.push(d.id);
      else out.set(f.code, { ...f, ids: [d.id] });
    }
  const rank: Record<string, number> = { lost: 0, look: 1, note: 2 };
  return [...out.values()].sort((a, b) => rank[a.severity]! - rank[b.severity]! || b.ids.length - a.ids.length);
});
const TONE: Record<string, string> = { lost: 'text-no', look: 'text-ask', note: 'text-soft' };

const pasting = ref(false);
const taking = ref(false);
const source = ref('');
const groups = ref(false);
async function paste(): Promise<void> {
  const file = new File([source.value], 'drawing.svg', { type: 'image/svg+xml' });
  await at.bringIn([{ file, path: 'drawing.svg' }], groups.value ? 'groups' : 'itself');
  if (taken.value.every((t) => t.refused === null)) {
    source.value = '';
    pasting.value = false;
  }
}
async function picked(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const files = [...(input.files ?? [])].map((file): Chosen => ({ file, path: file.name }));
  input.value = '';
  if (files.length > 0) await at.bringIn(files);
}
const over = ref(false);
async function dropped(event: DragEvent): Promise<void> {
  over.value = false;
  if (!event.dataTransfer || !session.canEdit) return;
  event.preventDefault();
  await at.bringIn(await filesOfDrop(event.dataTransfer));
}
function dragged(event: DragEvent): void {
  if (!session.canEdit || !event.dataTransfer?.types.includes('Files')) return;
  event.preventDefault();
  over.value = true;
}
const left = (event: DragEvent): void => void (event.relatedTarget === null && (over.value = false));
onMounted(() => {
  window.addEventListener('dragover', dragged);
  window.addEventListener('drop', dropped);
  window.addEventListener('dragleave', left);
});
onBeforeUnmount(() => {
  window.removeEventListener('dragover', dragged);
  window.removeEventListener('drop', dropped);
  window.removeEventListener('dragleave', left);
});
const nameOf = (id: string): string => drawings.value.find((d) => d.id === id)?.name ?? '';
const removeById = (ids: string[]): void => void at.remove(drawings.value.filter((d) => ids.includes(d.id)));
async function forget(): Promise<void> {
  try {
    await call(routes.removeIconSet, { params: { setId: props.setId } });
    const setId = props.setId;
    const run = async (): Promise<void> => {
      try {
        await call(routes.returnIconSet, { params: { setId } });
        await router.push(`/foundry/icons/${setId}`);
      } catch (error) {
        voice.say(sentence(error), 'fault');
      }
    };
    voice.say(`“${set.value!.facts.family}” is forgotten.`, 'told', { label: 'Undo', run: () => void run() });
    await router.push('/foundry/icons');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const notes = computed(() => taken.value.filter((t) => t.refused !== null || t.notes.length > 0));
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4">
      <FoundryRooms />
      <p v-if="state === 'loading'" class="text-soft">Loading …</p>
      <p v-else-if="!set" role="alert">{{ problem }} <RouterLink class="link" to="/foundry/icons">All icon sets</RouterLink></p>
      <template v-else>
        <div class="flex flex-wrap items-center justify-between gap-3">
          <h1>{{ set.facts.family }}</h1>
          <div v-if="session.canEdit" class="flex flex-wrap gap-3">
            <label
              class="press focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-action"
              :aria-disabled="busy !== ''"
              >{{ busy || 'Bring in drawings'
              }}<input
                type="file"
                multiple
                accept=".svg,image/svg+xml,.zip,application/zip"
                class="sr-only"
                :disabled="busy !== ''"
                @change="picked"
            /></label>
            <button type="button" class="press-quiet" :aria-expanded="pasting" @click="pasting = !pasting">Paste one</button>
            <button type="button" class="press-quiet" :aria-expanded="taking" @click="taking = !taking">Take from here</button>
          </div>
        </div>
        <p class="note mt-1">
          {{ count(drawings.length, 'drawing') }},
          {{ set.releases[0] ? `release ${set.releases[0].number} of ${set.releases[0].day}` : 'not released yet' }}.
        </p>
        <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
        <form v-if="pasting" class="mt-3 max-w-2xl" @submit.prevent="paste">
          <label class="block"
            ><span class="note">SVG source</span
            ><textarea v-model="source" class="field font-mono" rows="5" required spellcheck="false"></textarea>
          </label>
          <label class="mt-2 flex items-start gap-2"
            ><input v-model="groups" type="checkbox" class="accent-action" />Each group in it is a drawing of its own</label
          >
          <p class="mt-2 flex gap-3">
            <button class="press">Take it in</button><button type="button" class="press-quiet" @click="pasting = false">Leave it</button>
          </p>
        </form>
        <TakeFrom v-if="taking" :at="at" @done="(t) => ((taken = t), (taking = false))" />
        <details v-if="notes.length > 0" class="mt-3 max-w-3xl border-l-4 border-ask bg-ask-pale px-3 py-2" open>
          <summary class="font-semibold">What was changed or left out</summary>
          <ul class="mt-1 max-h-48 overflow-y-auto">
            <li v-for="t in notes" :key="t.path">
              <span class="code">{{ t.path }}</span>: {{ t.refused ?? t.notes.join(' ') }}
            </li>
          </ul>
          <button type="button" class="link" @click="taken = []">Seen</button>
        </details>
        <nav aria-label="The set" class="mt-4 flex gap-5 border-b border-rule">
          <button
            v-for="v in VIEWS"
            :key="v.id"
            type="button"
            class="-mb-px min-h-9 border-b-2"
            :class="view === v.id ? 'border-no font-semibold' : 'border-transparent text-soft'"
            :aria-current="view === v.id ? 'page' : undefined"
            @click="show(v.id)"
          >
            {{ v.name }}
          </button>
        </nav>
        <template v-if="view === ''">
          <div v-if="drawings.length > 0" class="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2">
            <label class="block w-44"
              ><span class="note">Find</span
              ><input
                class="field"
                type="search"
                :value="search"
                @input="put({ q: ($event.target as HTMLInputElement).value || undefined })"
            /></label>
            <label class="block"
              ><span class="note">Size</span
              ><select class="field" :value="size" @change="put({ size: ($event.target as HTMLSelectElement).value })">
                <option v-for="s in SIZES" :key="s" :value="s">{{ s }} px</option>
              </select></label
            >
            <label class="block"
              ><span class="note">Colors</span
              ><select class="field" :value="ground.id" @change="put({ ground: ($event.target as HTMLSelectElement).value || undefined })">
                <option v-for="g in GROUNDS" :key="g.id" :value="g.id">{{ g.name }}</option>
              </select></label
            >
            <label class="block"
              ><span class="note">Order</span
              ><select class="field" :value="order" @change="put({ order: ($event.target as HTMLSelectElement).value || undefined })">
                <option value="">as they came</option>
                <option value="name">by name</option>
                <option value="code">by code point</option>
                <option value="size">largest looking first</option>
              </select></label
            >
            <p class="note pb-2">
              {{ shown.length < drawings.length ? `${shown.length} of ${drawings.length}` : ''
              }}<button v-if="param('finding')" type="button" class="link ml-2" @click="put({ finding: undefined })">Show all</button>
            </p>
          </div>
          <DrawingSheet
            v-if="shown.length > 0"
            v-model="chosen"
            class="mt-3"
            :drawings="shown"
            :size="size"
            :ink="ground.ink"
            :paper="ground.paper"
            @remove="removeById"
          />
          <div v-else-if="drawings.length === 0" class="mt-4 border-2 border-dashed border-rule-strong px-6 py-10 text-center text-soft">
            <p>Drop SVG drawings here, or a ZIP of them. Each becomes an icon, called as its file is.</p>
            <p class="mt-1">
              Equal square boards, closed shapes and one color are best; what cannot be kept is told before anything is released.
            </p>
          </div>
          <p v-else class="mt-4 text-soft">None of them is called so.</p>
        </template>
        <SetCodes v-else-if="view === 'codes'" v-model="chosen" class="mt-3" :set="set" />
        <SetReleases v-else class="mt-4" :at="at" />
      </template>
    </div>
    <aside
      v-if="set"
      :aria-label="selection.length > 0 ? 'What is chosen' : 'The set'"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-6 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <DrawingMargin
        v-if="selection.length > 0"
        :drawings="selection"
        :all="at.drawings.value"
        :facts="set.facts"
        :act="at.act"
        @remove="(rows) => at.remove(rows)"
      />
      <template v-else>
        <section v-if="findings.length > 0" aria-label="Worth a look">
          <h2>Worth a look</h2>
          <ul class="mt-2 flex flex-col gap-2">
            <li v-for="f in findings" :key="f.code">
              <p :class="TONE[f.severity]">
                {{
                  f.ids.length === 1
                    ? `${nameOf(f.ids[0]!)}: ${f.message}`
                    : `${f.ids.length} drawings ${FINDING_WORDS[f.code] ?? f.message}`
                }}
              </p>
              <button type="button" class="link" @click="(put({ view: undefined, finding: f.code }), (chosen = [...f.ids]))">
                Choose {{ f.ids.length === 1 ? 'it' : 'them' }}
              </button>
            </li>
          </ul>
        </section>
        <SizeOutliers class="mt-6 first:mt-0" :drawings="drawings" @choose="(ids) => (chosen = ids)" />
        <h2 class="mt-6 first:mt-0">The set</h2>
        <SetFacts v-if="session.canEdit" class="mt-2" :facts="set.facts" :released="set.releases.length > 0" :change="at.change" />
        <p v-if="session.canEdit && set.releases.length === 0" class="mt-6">
          <button type="button" class="link" @click="forget">Forget this set</button>
        </p>
      </template>
    </aside>
    <div v-if="over" class="pointer-events-none fixed inset-0 z-40 flex items-center justify-center bg-paper/90" aria-hidden="true">
      <p class="border-2 border-dashed border-action px-10 py-8 font-serif text-[22px]">Drop the drawings to take them into this set</p>
    </div>
  </div>
</template>
