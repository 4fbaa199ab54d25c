<script setup lang="ts">
import type { Place, PreflightFace } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import { USE_WORDS } from '@orderly-glyph/schema';
import { call, routes, sentence } from '../../platform/api';
import FitDetail from './FitDetail.vue';
import FitTable from './FitTable.vue';
import LiveText from '../faces/LiveText.vue';
import VerdictMark from '../licenses/VerdictMark.vue';
import { useLibrary, type FaceLine, type Family } from '../library/library';
import { useSession } from '../accounts/session';
import { useTray } from '../library/tray';
import { count, size, when } from '../../platform/words';

const route = useRoute();
const router = useRouter();
const { param, several, step, put } = useAddress();
const library = useLibrary();
const session = useSession();
const cells = ref<PreflightFace[] | null>(null);
const unseen = ref<{ placeId: string; why: string }[]>([]);
const problem = ref('');
const busy = ref(false);
const notes = ref<Record<string, string>>({});

const tray = useTray();
const search = ref('');
const use = computed(() => places.value[0]?.use ?? 'website');
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
const wanted = computed(() => (param('places') ? several('places') : several('place')));
/** Places that are asked together; the first one when none is named. */
const places = computed(() => {
  const named = library.places.filter((p) => wanted.value.includes(p.id));
  return named.length > 0 ? named : library.places.slice(0, 1);
});
const place = computed(() => places.value[0] ?? null);
function togglePlace(p: Place): void {
  const ids = places.value.map((x) => x.id);
  const next = ids.includes(p.id) ? ids.filter((id) => id !== p.id) : [...ids, p.id];
  if (next.length > 0) step({ places: next.join(','), place: undefined });
}

/** Ids in the address are cut to their first eight figures, which tell them apart here. */
const short = (id: string): string => id.slice(0, 8);
/** Remedies that were chosen: "all", or "face.place.remedy+remedy" joined by commas. */
const fixes = computed(() => {
  const out = new Map<string, string[]>();
  for (const part of several('fix')) {
    const [face, at, ids] = part.split('.');
    if (face && at && ids) out.set(`${face}.${at}`, ids.split('+').map(decodeURIComponent));
  }
  return out;
});
const chosenFor = (faceId: string, placeId: string): string[] => fixes.value.get(`${short(faceId)}.${short(placeId)}`) ?? [];
function choose(cell: { faceId: string; placeId: string }, ids: readonly string[]): void {
  const next = new Map(fixes.value);
  const key = `${short(cell.faceId)}.${short(cell.placeId)}`;
  if (ids.length > 0) next.set(key, [...ids]);
  else next.delete(key);
  step({ fix: written(next) });
}
const written = (chosen: ReadonlyMap<string, readonly string[]>): string =>
  [...chosen].map(([key, ids]) => `${key}.${ids.map(encodeURIComponent).join('+')}`).join(',');
/** Roles by place; a website's first one is its headings. */
const roles = computed(() =>
  Object.fromEntries(
    places.value.map((p) => {
      const kept = several('roles').find((r) => r.startsWith(`${short(p.id)}.`));
      return [
        p.id,
        kept ? kept.slice(9) || null : faceIds.value.length === 1 && places.value.length === 1 ? (p.roles[0]?.id ?? null) : null,
      ];
    }),
  ),
);
function setRole(placeId: string, role: string): void {
  const rest = several('roles').filter((r) => !r.startsWith(`${short(placeId)}.`));
  put({ roles: [...rest, `${short(placeId)}.${role}`].join(',') });
}

/** Faces an owner sends although the answer is no. */
const override = ref<Record<string, boolean>>({});
const keyOf = (c: PreflightFace): string => `${c.faceId} ${c.placeId}`;
const goes = (c: PreflightFace): boolean => c.clear || (c.overridable && override.value[keyOf(c)] === true);
const byHand = (c: PreflightFace): boolean => places.value.some((p) => p.id === c.placeId && isOwnTask(p));
/** Where a person or the computer itself puts what goes there. */
const isOwnTask = (p: Place): boolean => p.byHand || p.fetches;
const going = computed(() => cells.value?.filter((c) => goes(c) && !byHand(c)) ?? []);
const staying = computed(() => cells.value?.filter((c) => !goes(c)) ?? []);
const mendable = computed(() => staying.value.filter((c) => c.mend !== null && c.mend.length > 0));
/** One reason for all that a license does not settle; a field may have its own. */
const reason = ref('');
const noteOf = (c: PreflightFace): string => notes.value[keyOf(c)]?.trim() || reason.value.trim();
const unsettled = computed(() => going.value.filter((c) => c.verdict.answer !== 'yes'));
const lacksNote = computed(() => unsettled.value.some((c) => !noteOf(c)));
/** What is stated, by place; the words differ by the face's name only. */
const stated = computed(() =>
  places.value.map((p) => ({ place: p, faces: going.value.filter((c) => c.placeId === p.id) })).filter((g) => g.faces.length > 0),
);
/** Which field is opened; a short list stands open as a whole. */
const wide = computed(() => places.value.length > 1 || faceIds.value.length > 6);
const at = computed(() => {
  const [face, p] = param('look').split('.');
  return cells.value?.find((c) => short(c.faceId) === face && short(c.placeId) === p) ?? null;
});
const shown = computed(() => (wide.value ? (at.value ? [at.value] : []) : (cells.value ?? [])));

let turn = 0;
async function check(mendAll = false): Promise<void> {
  const mine = ++turn;
  problem.value = '';
  if (!mendAll) cells.value = null;
  if (places.value.length === 0 || faceIds.value.length === 0) return;
  busy.value = mendAll;
  try {
    const few = faceIds.value.length * places.value.length === 1;
    const found =
      few && !mendAll
        ? {
            cells: await call(routes.checkForPlace, {
              params: { placeId: place.value!.id },
              body: {
                faceIds: faceIds.value,
                remedies: chosenFor(faceIds.value[0]!, place.value!.id),
                role: roles.value[place.value!.id] ?? null,
              },
            }),
            unseen: [],
          }
        : await call(routes.checkForPlaces, {
            body: {
              faceIds: faceIds.value,
              placeIds: places.value.map((p) => p.id),
              roles: roles.value,
              chosen: faceIds.value.flatMap((faceId) =>
                places.value.flatMap((p) => {
                  const remedies = chosenFor(faceId, p.id);
                  return remedies.length > 0 ? [{ faceId, placeId: p.id, remedies }] : [];
                }),
              ),
              mendAll,
            },
          });
    if (mine !== turn) return;
    cells.value = found.cells;
    unseen.value = found.unseen;
    if (mendAll)
      put({
        fix: written(
          new Map(found.cells.filter((c) => c.chosen.length > 0).map((c) => [`${short(c.faceId)}.${short(c.placeId)}`, c.chosen])),
        ),
      });
  } catch (error) {
    if (mine === turn) problem.value = sentence(error);
  } finally {
    if (mine === turn) busy.value = false;
  }
}
let mended = '';
async function mendAll(): Promise<void> {
  await check(true);
  // The address follows what was mended; that is no reason to ask again.
  mended = param('fix');
}
watch(
  [() => places.value.map((p) => p.id).join(','), () => faceIds.value.join(','), () => param('fix'), () => JSON.stringify(roles.value)],
  ([, , fix], before) => {
    if (before[2] !== undefined && fix !== before[2] && cells.value && fix !== '' && (fix === mended || busy.value)) return;
    void check();
  },
  { immediate: true },
);

function goTo(c: PreflightFace, where: 'license' | 'library' | 'place'): void {
  if (where === 'library') return void router.push('/library');
  if (where === 'place') return void router.push(`/places/${c.placeId}`);
  // A license that says no is opened; only where none is on record is there one to record.
  if (c.verdict.licenseId) return void router.push(`/licenses/${c.verdict.licenseId}`);
  const family = library.faces.get(c.faceId)?.family;
  void router.push({ path: '/licenses/new', query: family ? { family: family.id } : { faces: c.faceId } });
}
const instead = (c: PreflightFace, faceId: string): void =>
  step({ faces: [...new Set(faceIds.value.map((id) => (id === c.faceId ? faceId : id)))].join(',') });

async function deliver(): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    const batchId = crypto.randomUUID();
    await call(routes.createDeliveries, {
      body: {
        batchId,
        orders: stated.value.map(({ place: p, faces }) => ({
          placeId: p.id,
          role: roles.value[p.id] ?? null,
          faces: faces.map((c) => ({
            faceId: c.faceId,
            remedies: c.chosen,
            statement: c.clear ? c.statement : c.overrideStatement,
            note: c.verdict.answer === 'yes' ? '' : noteOf(c),
            override: !c.clear,
          })),
        })),
      },
    });
    await router.push(`/deliveries/batch/${batchId}`);
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4">
      <h1>
        {{
          places.length > 1
            ? `Can ${faceIds.length === 1 ? 'it' : 'they'} go to ${places.length} places?`
            : place
              ? `Can ${faceIds.length > 1 ? 'they' : 'it'} go on ${place.name}?`
              : 'Check for a place'
        }}
      </h1>
      <p v-if="place && places.length === 1" class="mt-1 text-soft">
        It takes {{ place.formats.map((f) => f.toUpperCase()).join(' and ') }}, {{ size(place.maxBytes) }} a file at most, and looks into
        each file itself.
      </p>
      <fieldset v-if="library.places.length > 1" class="mt-3 flex flex-wrap gap-x-5 gap-y-1">
        <legend class="note">Places</legend>
        <label v-for="p in library.places" :key="p.id" class="flex items-center gap-2"
          ><input type="checkbox" class="accent-action" :checked="places.includes(p)" @change="togglePlace(p)" />{{ p.name }}</label
        >
      </fieldset>
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
      <p v-else-if="cells === null && !problem" class="mt-5 text-soft">
        {{ param('fix') && !wide ? 'Converting, and comparing every outline …' : 'Checking …' }}
      </p>
      <p v-for="u in unseen" :key="u.placeId" class="mt-3 border-l-4 border-ask bg-ask-pale px-4 py-2">
        {{ u.why }} What lies there is taken from our own record.
      </p>
      <p v-if="cells && mendable.length > 0 && wide && session.canEdit" class="mt-4 flex flex-wrap items-baseline gap-x-3">
        <button type="button" class="press" :disabled="busy" @click="mendAll">
          {{ busy ? 'Mending …' : `Mend ${count(mendable.length, 'field', 'fields')} that can be mended` }}</button><span class="note"
          >Copies are made for the places; what happens to each stands in its field.</span
        >
      </p>
      <FitTable
        v-if="cells && wide"
        class="mt-4"
        :cells="cells"
        :places="places"
        :at="at"
        @look="(faceId, placeId) => put({ look: `${short(faceId)}.${short(placeId)}` })"
      />
      <p v-if="cells && wide && !at" class="note mt-3">Choose a field to read what stands in the way and what mends it.</p>
      <ol v-if="cells && shown.length > 0" class="mt-5 border-t border-rule">
        <li v-for="c in shown" :key="keyOf(c)" class="border-b border-rule py-5">
          <p v-if="places.length > 1" class="note">At {{ c.place }}</p>
          <FitDetail
            v-model:override="override[keyOf(c)]"
            v-model:note="notes[keyOf(c)]"
            :cell="c"
            :asks-why="goes(c) && c.verdict.answer !== 'yes'"
            @mend="(ids) => choose(c, ids)"
            @go-to="(where) => goTo(c, where)"
            @instead="(faceId) => instead(c, faceId)"
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
        <div v-for="g in stated" :key="g.place.id" class="mt-4">
          <p v-if="places.length > 1" class="font-semibold">{{ g.place.name }}</p>
          <div v-for="c in g.faces.slice(0, 2)" :key="c.faceId" class="mt-2">
            <p class="quote">{{ c.clear ? c.statement : c.overrideStatement }}</p>
            <p class="note mt-1">{{ c.verdict.reasons[0] }}</p>
            <p v-if="c.verdict.quote" class="note mt-1 font-serif italic">
              “{{ c.verdict.quote }}”{{ c.verdict.clause ? ` (${c.verdict.clause})` : '' }}
            </p>
          </div>
          <details v-if="g.faces.length > 2" class="mt-2">
            <summary class="link inline">The same for {{ count(g.faces.length - 2, 'more face', 'more faces') }}</summary>
            <p v-for="c in g.faces.slice(2)" :key="c.faceId" class="quote mt-2">{{ c.clear ? c.statement : c.overrideStatement }}</p>
          </details>
          <label v-if="g.place.roles.length > 0" class="mt-3 block"
            >What {{ g.faces.length === 1 ? 'it is' : 'they are' }} there<select
              class="field"
              :value="roles[g.place.id] ?? ''"
              @change="setRole(g.place.id, ($event.target as HTMLSelectElement).value)"
            >
              <option value="">Only laid there for now</option>
              <option v-for="r in g.place.roles" :key="r.id" :value="r.id">{{ r.label }}</option>
            </select></label
          >
          <p v-if="g.faces.length > 1 && g.place.roles.some((r) => r.id === roles[g.place.id] && !r.many)" class="note mt-1">
            One face has this role at a time: {{ g.faces[0]!.face }} gets it. Give the others theirs on the place’s page.
          </p>
        </div>
        <p class="mt-4">
          {{ session.session?.account?.name }}<span class="note block">{{ when(new Date().toISOString()) }}</span>
        </p>
        <label v-if="wide && unsettled.length > 0 && session.canEdit" class="mt-4 block"
          >Why you go ahead with {{ count(unsettled.length, 'field') }} that no license settles<textarea
            v-model="reason"
            class="field"
            rows="2"
            maxlength="1000"
            placeholder="Whom you asked and what they said"
          ></textarea>
        </label>
        <button
          v-if="session.canEdit"
          type="button"
          class="press mt-4 w-full justify-center"
          :disabled="busy || lacksNote"
          @click="deliver"
        >
          {{
            busy
              ? 'Sending …'
              : going.length === 1
                ? 'State this and put it there'
                : `State this and put ${count(new Set(going.map((c) => c.faceId)).size, 'face')} at ${count(stated.length, 'place')}`
          }}
        </button>
        <p v-if="lacksNote && !wide" class="note mt-2 text-ask">
          Not every license says yes to this use. Write down on the left why you go ahead.
        </p>
        <p v-for="p in places.filter(isOwnTask)" :key="p.id" class="note mt-2">
          {{ p.byHand ? `A person puts files at ${p.name}:` : `${p.name} fetches its faces itself:` }}
          <RouterLink class="link" :to="{ path: `/places/${p.id}`, query: { faces: faceIds.join(',') } }">{{
            p.byHand ? 'take the kit and follow its list' : 'assign them on its page'
          }}</RouterLink>.
        </p>
        <p v-if="staying.length > 0" class="note mt-2">
          {{ count(staying.length, places.length > 1 ? 'field stays' : 'face stays', places.length > 1 ? 'fields stay' : 'faces stay') }}
          out until what stops {{ staying.length === 1 ? 'it' : 'them' }} is mended.
        </p>
      </template>
      <p v-else-if="cells" class="mt-2 text-soft">Nothing can go out yet. Mend what stops it on the left.</p>
      <p v-else-if="faceIds.length === 0" class="mt-2 text-soft">
        Choose a face on the left. Every place asks whether you have the right; what you state stands here before anything is sent.
      </p>
    </aside>
  </div>
</template>
