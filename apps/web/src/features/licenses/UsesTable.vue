<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import { USES, USE_WORDS } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { useAddress, useFace } from '../../platform/address';
import ProofOfRightsForm from '../reports/ProofOfRightsForm.vue';
import VerdictMark from './VerdictMark.vue';
import WordChoice from '../../platform/WordChoice.vue';
import { useLibrary, type Family } from '../library/library';
import { useSession } from '../accounts/session';
import { count, list, when } from '../../platform/words';

const library = useLibrary();
const session = useSession();
const { param, put } = useAddress();

const inDays = (days: number): string => new Date(Date.now() + days * 86_400_000).toLocaleDateString('sv-SE');
const FILTERS: Record<string, { word: string; fits: (f: Family) => boolean }> = {
  '': { word: 'Every family', fits: () => true },
  unknown: { word: 'Nothing on record', fits: (f) => f.licenseName === null },
  'ends-30': { word: 'Ends within 30 days', fits: (f) => f.licenseEndsOn !== null && f.licenseEndsOn <= inDays(30) },
  'ends-90': { word: 'Within 90 days', fits: (f) => f.licenseEndsOn !== null && f.licenseEndsOn <= inDays(90) },
  'ends-365': { word: 'Within a year', fits: (f) => f.licenseEndsOn !== null && f.licenseEndsOn <= inDays(365) },
  over: { word: 'Over a limit', fits: (f) => f.limit === 'over' },
  near: { word: 'Limit nearly reached', fits: (f) => f.limit === 'near' },
  'no-right': { word: 'Used somewhere without a right', fits: (f) => f.withoutRight },
};
const FILTER_WORDS = Object.fromEntries(Object.entries(FILTERS).map(([key, f]) => [key, f.word]));
const shown = computed(() => {
  const filter = FILTERS[param('show')] ?? FILTERS['']!;
  return library.families.filter((f) => !f.archived && filter.fits(f));
});
type Marks = { name: string; faceId: string; verdicts: Family['verdicts']; indent: boolean };
type Row = { heading: string; size: number; endsOn: string | null } | { family: Family; marks: Marks };
/** Families under the license that counts for them; those without one first. */
/** A family in a line; where its faces differ in what they may do, each group of them has a line under it. */
function lines(family: Family): Row[] {
  const style = (id: string): string => family.faces.find((f) => f.id === id)?.style ?? '';
  const own: Row = { family, marks: { name: family.name, faceId: family.leadFaceId, verdicts: family.verdicts, indent: false } };
  return [
    own,
    ...family.groups.map((g) => ({
      family,
      marks: { name: list(g.faceIds.map(style), 2), faceId: g.faceIds[0]!, verdicts: g.verdicts, indent: true },
    })),
  ];
}
const rows = computed<Row[]>(() => {
  const groups = new Map<string, Family[]>();
  for (const f of shown.value) {
    const key = f.licenseName ?? '';
    const group = groups.get(key);
    if (group) group.push(f);
    else groups.set(key, [f]);
  }
  return [...groups]
    .sort(([a], [b]) => (a === '' ? -1 : b === '' ? 1 : a.localeCompare(b, 'en')))
    .flatMap(([name, families]) => [
      { heading: name || 'Nothing on record', size: families.length, endsOn: families[0]!.licenseEndsOn },
      ...families.flatMap((family) => lines(family)),
    ]);
});
const marksOf = (index: number): Marks => (rows.value[index] as { marks: Marks }).marks;
const scroller = ref<HTMLElement | null>(null);
const HEAD = 168;
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => scroller.value,
    estimateSize: (i: number) => ('heading' in rows.value[i]! ? 40 : 34),
    overscan: 10,
    paddingStart: HEAD,
  })),
);
watch(rows, () => virtual.value.measure());

const { face, problem } = useFace(() => param('face'));
const verdict = computed(() => face.value?.verdicts.find((v) => v.use === param('use')) ?? null);
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="flex h-full min-w-0 flex-1 flex-col max-lg:min-h-[70vh]">
      <div class="border-b border-rule px-6 pt-4 pb-3 max-sm:px-4">
        <RouterLink class="link text-note" to="/licenses">Licenses</RouterLink>
        <h1>Every family by every use</h1>
        <WordChoice
          class="mt-1"
          :model-value="param('show')"
          :words="FILTER_WORDS"
          label="Which families"
          @update:model-value="put({ show: $event })"
        />
      </div>
      <p v-if="library.state !== 'ready'" class="p-6 text-soft">
        {{ library.state === 'failed' ? library.problem : 'Weighing every use …' }}
      </p>
      <p v-else-if="library.families.length === 0" class="p-6">
        There is no typeface here yet. <RouterLink class="link" to="/intake">Bring in files</RouterLink>
      </p>
      <p v-else-if="rows.length === 0" class="p-6">No family fits this.</p>
      <div v-else ref="scroller" class="relative min-h-0 flex-1 overflow-auto" tabindex="0" role="region" aria-label="Families and uses">
        <div
          role="table"
          :aria-rowcount="rows.length + 1"
          class="relative w-max min-w-full"
          :style="{ height: `${virtual.getTotalSize()}px` }"
        >
          <div
            role="row"
            class="sticky top-0 z-10 flex items-end border-b border-rule-strong bg-paper pl-6"
            :style="{ height: `${HEAD}px` }"
          >
            <span role="columnheader" class="note w-52 shrink-0 pb-1">{{ count(shown.length, 'family', 'families') }}</span>
            <span v-for="u in USES" :key="u" role="columnheader" class="w-[58px] shrink-0 pb-1">
              <span
                class="mx-auto block h-[148px] rotate-180 text-left text-note whitespace-nowrap [text-orientation:sideways] [writing-mode:vertical-rl]"
                >{{ USE_WORDS[u].label }}</span
              >
            </span>
          </div>
          <template v-for="row in virtual.getVirtualItems()" :key="String(row.key)">
            <div
              role="row"
              class="absolute inset-x-0 top-0 flex items-center border-b border-rule pl-6"
              :style="{ height: `${row.size}px`, transform: `translateY(${row.start}px)` }"
            >
              <template v-if="'heading' in rows[row.index]!">
                <span role="rowheader" class="truncate pt-2 font-semibold"
                  >{{ (rows[row.index] as { heading: string }).heading }}
                  <span class="note font-normal"
                    >{{ count((rows[row.index] as { size: number }).size, 'family', 'families')
                    }}{{
                      (rows[row.index] as { endsOn: string | null }).endsOn
                        ? `, until ${when((rows[row.index] as { endsOn: string }).endsOn)}`
                        : ''
                    }}</span
                  ></span
                >
              </template>
              <template v-else>
                <span
                  role="rowheader"
                  class="w-52 shrink-0 truncate pr-3"
                  :class="{ 'pl-4 text-note text-soft': marksOf(row.index).indent }"
                  ><RouterLink class="hover:underline" :to="{ path: '/library', query: { face: marksOf(row.index).faceId } }">{{
                    marksOf(row.index).name
                  }}</RouterLink></span
                >
                <span v-for="u in USES" :key="u" role="cell" class="flex w-[58px] shrink-0 justify-center">
                  <button
                    type="button"
                    class="rounded-sm"
                    :class="{ 'outline-2 outline-action': param('use') === u && param('face') === marksOf(row.index).faceId }"
                    :aria-label="`${marksOf(row.index).name}, ${USE_WORDS[u].label}: ${marksOf(row.index).verdicts[u]}`"
                    @click="put({ face: marksOf(row.index).faceId, use: u })"
                  >
                    <VerdictMark :answer="marksOf(row.index).verdicts[u] ?? 'ask'" short />
                  </button>
                </span>
              </template>
            </div>
          </template>
        </div>
      </div>
    </div>
    <aside
      aria-label="Why"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-4 max-lg:w-full max-lg:border-t max-lg:border-l-0"
      tabindex="0"
    >
      <p v-if="problem" class="text-no">{{ problem }}</p>
      <template v-else-if="face && verdict">
        <h2>{{ face.family }} {{ face.style }}</h2>
        <p class="mt-1 flex items-center gap-3">{{ USE_WORDS[verdict.use].label }} <VerdictMark :answer="verdict.answer" /></p>
        <p v-for="reason in verdict.reasons" :key="reason" class="mt-2">{{ reason }}</p>
        <p v-if="verdict.remedy" class="mt-2 border-l-4 border-action bg-action-pale px-3 py-2">{{ verdict.remedy }}</p>
        <p v-if="verdict.quote" class="quote mt-3">“{{ verdict.quote }}”{{ verdict.clause ? ` (${verdict.clause})` : '' }}</p>
        <template v-if="verdict.duties.length > 0">
          <h3 class="mt-3">In return</h3>
          <ul class="list-disc pl-5">
            <li v-for="d in verdict.duties" :key="d" class="text-note">{{ d }}</li>
          </ul>
        </template>
        <RouterLink v-if="verdict.licenseId" class="press mt-4" :to="`/licenses/${verdict.licenseId}`">Open the license</RouterLink>
        <RouterLink v-else-if="session.canEdit" class="press mt-4" :to="{ path: '/licenses/new', query: { family: face.familyId } }"
          >Record the license</RouterLink
        >
        <div class="mt-5 border-t border-rule pt-4">
          <ProofOfRightsForm
            :key="`${face.id} ${verdict.use}`"
            :face-ids="library.faces.get(face.id)?.family.faces.map((f) => f.id) ?? [face.id]"
            :use="verdict.use"
          />
        </div>
      </template>
      <p v-else class="text-soft">Press a mark. Why it says so stands here, with the sentence it rests on and what would turn it to Yes.</p>
    </aside>
  </div>
</template>
