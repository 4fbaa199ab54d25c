<script setup lang="ts">
import type { PreflightFace } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import { USE_WORDS } from '@orderly-glyph/schema';
import { call, routes, sentence } from '../../platform/api';
import GoAhead from './GoAhead.vue';
import LiveText from '../faces/LiveText.vue';
import VerdictMark from '../licenses/VerdictMark.vue';
import { useLibrary, type FaceLine, type Family } from '../library/library';
import { useSession } from '../accounts/session';
import { useTray } from '../library/tray';
import { count, size, when } from '../../platform/words';

const route = useRoute();
const router = useRouter();
const { param, several, step } = useAddress();
const library = useLibrary();
const session = useSession();
const checks = ref<PreflightFace[] | null>(null);
const problem = ref('');
const busy = ref(false);
const notes = ref<Record<string, string>>({});
const headings = ref(true);

const tray = useTray();
const search = ref('');
const use = computed(() => place.value?.use ?? 'website');
/** What may go there first. */
const choices = computed(() => {
  const q = search.value.trim().toLowerCase();
  const rank = { yes: 0, ask: 1, no: 2 };
  return library.families
    .filter((f) => !f.archived && f.name.toLowerCase().includes(q))
    .sort((a, b) => rank[a.verdicts[use.value] ?? 'ask'] - rank[b.verdicts[use.value] ?? 'ask'])
    .slice(0, 12);
});
const leadOf = (f: Family): FaceLine => f.faces.find((x) => x.id === f.leadFaceId)!;
const faceIds = computed(() => several('faces'));
const place = computed(() => library.places.find((p) => p.id === param('place')) ?? library.places[0] ?? null);
const convertTo = computed(() => (['woff2', 'woff', 'ttf', 'otf'].includes(param('to')) ? (param('to') as 'woff2' | 'woff') : null));
/** Faces an owner sends although the answer is no. */
const override = ref<Record<string, boolean>>({});
const goes = (c: PreflightFace): boolean => c.clear || (c.overridable && override.value[c.faceId] === true);
const going = computed(() => checks.value?.filter(goes) ?? []);
const staying = computed(() => checks.value?.filter((c) => !goes(c)) ?? []);
const lacksNote = computed(() => going.value.some((c) => c.verdict.answer !== 'yes' && !notes.value[c.faceId]?.trim()));

let turn = 0;
async function check(): Promise<void> {
  const mine = ++turn;
  problem.value = '';
  checks.value = null;
  if (!place.value || faceIds.value.length === 0) return;
  try {
    const found = await call(routes.checkForPlace, {
      params: { placeId: place.value.id },
      body: { faceIds: faceIds.value, convertTo: convertTo.value },
    });
    if (mine === turn) checks.value = found;
  } catch (error) {
    if (mine === turn) problem.value = sentence(error);
  }
}
watch([() => place.value?.id, () => faceIds.value.join(','), convertTo], () => void check(), { immediate: true });

function remedy(r: PreflightFace['findings'][number]['remedies'][number], faceId: string): void {
  if (r.convertTo) return step({ to: r.convertTo });
  if (r.goTo !== 'license') return void router.push('/library');
  // A license that says no is opened; only where none is on record is there one to record.
  const licenseId = checks.value?.find((c) => c.faceId === faceId)?.verdict.licenseId;
  if (licenseId) return void router.push(`/licenses/${licenseId}`);
  const family = library.faces.get(faceId)?.family;
  void router.push({ path: '/licenses/new', query: family ? { family: family.id } : { faces: faceId } });
}

async function deliver(): Promise<void> {
  if (!place.value) return;
  busy.value = true;
  problem.value = '';
  try {
    const delivery = await call(routes.createDelivery, {
      body: {
        placeId: place.value.id,
        convertTo: convertTo.value,
        headings: headings.value && place.value.roles.length > 0,
        faces: going.value.map((c) => ({
          faceId: c.faceId,
          statement: c.clear ? c.statement : c.overrideStatement,
          note: notes.value[c.faceId]?.trim() ?? '',
          override: !c.clear,
        })),
      },
    });
    await router.push(`/deliveries/${delivery.id}`);
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
const MARK = {
  stops: 'border-no bg-no-pale',
  ask: 'border-ask bg-ask-pale',
  mended: 'border-yes bg-yes-pale',
  note: 'border-rule-strong',
} as const;
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4">
      <h1>{{ place ? `Can it go on ${place.name}?` : 'Check for a place' }}</h1>
      <p v-if="place" class="mt-1 text-soft">
        It takes {{ place.formats.map((f) => f.toUpperCase()).join(' and ') }}, {{ size(place.maxBytes) }} a file at most, and looks into
        each file itself.
      </p>
      <label v-if="library.places.length > 1" class="mt-3 block max-w-xs"
        >Place<select class="field" :value="place?.id" @change="step({ place: ($event.target as HTMLSelectElement).value })">
          <option v-for="p in library.places" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select></label
      >
      <p v-if="problem" role="alert" class="mt-4 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
      <section v-if="faceIds.length === 0" class="mt-5" aria-labelledby="which">
        <h2 id="which">Which face?</h2>
        <p v-if="tray.faces.length > 0" class="mt-2">
          <RouterLink class="press" :to="{ query: { ...route.query, faces: tray.faces.map((f) => f.face.id).join(',') } }"
            >Check the {{ tray.faces.length === 1 ? 'one' : tray.faces.length }} in the tray</RouterLink
          >
        </p>
        <label class="mt-3 block max-w-md"
          ><span class="note">{{ tray.faces.length > 0 ? 'Or choose' : 'Choose' }} by name</span
          ><input v-model="search" type="search" class="field" placeholder="Name of a family"
        /></label>
        <p v-if="library.state === 'ready' && choices.length === 0" class="mt-3 text-soft">
          {{ library.families.length === 0 ? 'There is no face here yet.' : 'No family of that name.' }}
        </p>
        <ul class="mt-3 border-t border-rule">
          <li v-for="f in choices" :key="f.id" class="border-b border-rule">
            <RouterLink
              class="flex items-center justify-between gap-4 py-1.5 -outline-offset-2 hover:bg-action-pale"
              :to="{ query: { ...route.query, faces: f.leadFaceId } }"
              ><span class="min-w-0 flex-1 truncate text-[24px] leading-9"><LiveText :face="leadOf(f)" :text="f.name" /></span
              ><VerdictMark :answer="f.verdicts[use] ?? 'ask'" :label="USE_WORDS[use].label"
            /></RouterLink>
          </li>
        </ul>
      </section>
      <p v-else-if="library.state === 'ready' && !place" class="mt-5">
        There is no place yet. <RouterLink class="link" to="/places">Add your website</RouterLink>
      </p>
      <p v-else-if="checks === null && !problem" class="mt-5 text-soft">
        {{ convertTo ? 'Converting, and comparing every outline …' : 'Checking …' }}
      </p>

      <ol v-if="checks" class="mt-5 border-t border-rule">
        <li v-for="c in checks" :key="c.faceId" class="border-b border-rule py-5">
          <p class="overflow-hidden text-[40px] leading-[56px] whitespace-nowrap">
            <LiveText v-if="library.faces.get(c.faceId)" :face="library.faces.get(c.faceId)!.face" :text="c.face" />
          </p>
          <div class="mt-1 flex flex-wrap items-center gap-x-4">
            <span class="font-semibold">{{ c.face }}</span><VerdictMark :answer="c.verdict.answer" label="May we" /><span class="note">{{
              c.licenseName ?? 'no license on record'
            }}</span>
          </div>
          <ul class="mt-3 flex flex-col gap-2">
            <li v-for="f in c.findings" :key="f.code" class="border-l-4 px-4 py-2" :class="MARK[f.severity]">
              <p>{{ f.message }}</p>
              <template v-if="session.canEdit">
                <button v-for="r in f.remedies" :key="r.id" type="button" class="press mt-2 mr-2" @click="remedy(r, c.faceId)">
                  {{ r.label }}
                </button>
              </template>
            </li>
            <li v-if="c.findings.length === 0" class="border-l-4 border-yes bg-yes-pale px-4 py-2">
              Nothing stands in the way. The file goes out as it is, {{ size(c.sending?.bytes ?? 0) }}.
            </li>
          </ul>
          <p v-if="c.sending && convertTo" class="note mt-2">{{ c.sending.comparison }}</p>
          <GoAhead
            v-model:override="override[c.faceId]"
            v-model:note="notes[c.faceId]"
            :denied="c.overridable"
            :asks-why="goes(c) && c.verdict.answer !== 'yes'"
          />
        </li>
      </ol>
    </div>
    <aside
      aria-label="The statement of rights"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-6 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <h2>What you state</h2>
      <template v-if="going.length > 0">
        <p class="note mt-1">
          Every place asks whether you have the right. This is what is written down, in these words, with your name and the date.
        </p>
        <div v-for="c in going" :key="c.faceId" class="mt-4">
          <p class="quote">{{ c.clear ? c.statement : c.overrideStatement }}</p>
          <p class="note mt-1">{{ c.verdict.reasons[0] }}</p>
          <p v-if="c.verdict.quote" class="note mt-1 font-serif italic">
            “{{ c.verdict.quote }}”{{ c.verdict.clause ? ` (${c.verdict.clause})` : '' }}
          </p>
        </div>
        <p class="mt-4">
          {{ session.session?.account?.name }}<span class="note block">{{ when(new Date().toISOString()) }}</span>
        </p>
        <label v-for="r in place?.roles ?? []" :key="r.id" class="mt-4 flex items-start gap-2"
          ><input v-model="headings" type="checkbox" class="accent-action" /><span>{{ r.label }}</span></label
        >
        <button
          v-if="session.canEdit"
          type="button"
          class="press mt-4 w-full justify-center"
          :disabled="busy || lacksNote"
          @click="deliver"
        >
          {{ busy ? 'Sending …' : going.length === 1 ? 'State this and put it there' : `State this and put ${going.length} there` }}
        </button>
        <p v-if="lacksNote" class="note mt-2 text-ask">Not every license says yes to this use. Write down on the left why you go ahead.</p>
        <p v-if="staying.length > 0" class="note mt-2">
          {{ count(staying.length, 'face stays', 'faces stay') }} here until what stops {{ staying.length === 1 ? 'it' : 'them' }} is
          mended.
        </p>
      </template>
      <p v-else-if="checks" class="mt-2 text-soft">Nothing can go out yet. Mend what stops it on the left.</p>
      <p v-else-if="faceIds.length === 0" class="mt-2 text-soft">
        Choose a face on the left. Every place asks whether you have the right; what you state stands here before anything is sent.
      </p>
    </aside>
  </div>
</template>
