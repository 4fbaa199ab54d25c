<script setup lang="ts">
import type { License } from '@orderly-glyph/schema';
import { KIND_WORDS, openLicense, USES, USE_WORDS } from '@orderly-glyph/schema';
import { computed, onMounted, ref } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import TermLine from './TermLine.vue';
import VerdictMark from './VerdictMark.vue';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import { count, list, money, when } from '../../platform/words';

const session = useSession();
const voice = useVoice();
const library = useLibrary();
const licenses = ref<License[] | null>(null);
const problem = ref('');
const today = new Date().toLocaleDateString('sv-SE');
/** Licenses with one and the same text stand in one line: what they answer is the same. */
interface Line {
  key: string;
  name: string;
  licenses: License[];
}
const lines = computed<Line[]>(() => {
  const groups = new Map<string, License[]>();
  for (const l of licenses.value ?? []) {
    // A known text with the same answers and terms; anything agreed beside it makes it another.
    const key = l.spdxId ? JSON.stringify([l.spdxId, l.answers, l.confirmed, l.startsOn, l.endsOn, l.limits, l.duties]) : l.id;
    groups.set(key, [...(groups.get(key) ?? []), l]);
  }
  return [...groups].map(([key, all]) => ({
    key,
    name: all.length === 1 ? all[0]!.name : (openLicense(all[0]!.spdxId!)?.name ?? all[0]!.name),
    licenses: all,
  }));
});
/** Families that need somebody: used without a right, or over a limit. */
const trouble = computed(() => library.families.filter((f) => f.withoutRight || f.limit === 'over'));
/** What licenses cost by year and by whom they are billed to; currencies are never added up. */
const costs = computed(() => {
  const priced = (licenses.value ?? []).filter((l) => l.price !== null && l.currency !== null);
  const sums = (keyOf: (l: License) => string): { name: string; text: string }[] => {
    const groups = new Map<string, Map<string, number>>();
    for (const l of priced) {
      const group = groups.get(keyOf(l)) ?? new Map<string, number>();
      group.set(l.currency!, (group.get(l.currency!) ?? 0) + l.price!);
      groups.set(keyOf(l), group);
    }
    return [...groups]
      .sort(([a], [b]) => (a < b ? 1 : -1))
      .map(([name, group]) => ({ name, text: [...group].map(([c, sum]) => money(sum, c)).join(' + ') }));
  };
  return priced.length === 0
    ? []
    : [
        { title: 'By year', rows: sums((l) => (l.boughtOn ?? l.startsOn ?? 'no date').slice(0, 7).replace(/^(\d{4}).*/, '$1')) },
        { title: 'By whom it is billed to', rows: sums((l) => l.billedTo || 'ourselves') },
        { title: 'By kind', rows: sums((l) => KIND_WORDS[l.kind]) },
      ];
});
const bare = computed(() => library.families.filter((f) => f.licenseName === null));

async function load(): Promise<void> {
  problem.value = '';
  try {
    licenses.value = await call(routes.listLicenses);
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);
const calendar = ref<string | null>(null);
onMounted(async () => {
  if (!session.canEdit) return;
  calendar.value = (await call(routes.getCalendar).catch(() => null))?.path ?? null;
});
const calendarAddress = computed(() => (calendar.value ? new URL(calendar.value, location.href).href : ''));
async function renew(): Promise<void> {
  try {
    calendar.value = (await call(routes.renewCalendar, { body: {} })).path;
    voice.say('The address is new; the former one no longer answers. Subscribe to it in your calendar program.');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
async function switchOff(): Promise<void> {
  try {
    await call(routes.switchOffCalendar);
    calendar.value = null;
    voice.say('The address no longer answers.');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
/** What ends next, soonest first. */
const ending = computed(() => (licenses.value ?? []).filter((l) => l.endsOn !== null).sort((a, b) => (a.endsOn! < b.endsOn! ? -1 : 1)));
</script>

<template>
  <div class="mx-auto max-w-6xl px-6 py-8 max-sm:px-4">
    <h1>Licenses</h1>
    <p class="mt-1 flex flex-wrap gap-x-5">
      <RouterLink class="link" to="/licenses/uses">Every family by every use</RouterLink>
      <RouterLink class="link" to="/licenses/audit">Audit of rights</RouterLink>
    </p>
    <p v-if="problem" class="mt-4">{{ problem }} <button type="button" class="link" @click="load">Try again</button></p>
    <p v-else-if="licenses === null" class="mt-4 text-soft">Looking …</p>
    <template v-else>
      <section v-if="trouble.length > 0" class="mt-6" aria-labelledby="trouble">
        <h2 id="trouble">Needs somebody</h2>
        <ul class="mt-2 border-t border-rule">
          <li v-for="f in trouble" :key="f.id" class="flex items-baseline justify-between gap-4 border-b border-rule py-2">
            <span class="min-w-0"
              ><RouterLink class="link" :to="{ path: '/library', query: { face: f.leadFaceId } }">{{ f.name }}</RouterLink>
              <span class="note ml-2">{{
                f.withoutRight ? `is on ${list(f.places, 2)} without a settled right` : 'is used beyond the limit of its license'
              }}</span></span
            >
            <RouterLink
              class="link shrink-0 text-note"
              :to="{ path: '/licenses/uses', query: { show: f.withoutRight ? 'no-right' : 'over', face: f.leadFaceId } }"
              >See why<span class="sr-only">, {{ f.name }}</span></RouterLink
            >
          </li>
        </ul>
      </section>
      <section class="mt-8" aria-labelledby="ends">
        <h2 id="ends">What ends next</h2>
        <p v-if="ending.length === 0" class="mt-1 text-soft">No license on record has an end.</p>
        <TermLine v-else class="mt-2" :licenses="ending" />
        <ul v-if="ending.length > 0" class="mt-2 border-t border-rule">
          <li v-for="l in ending" :key="l.id" class="flex justify-between gap-4 border-b border-rule py-1.5">
            <RouterLink class="link truncate" :to="`/licenses/${l.id}`">{{ l.name }}</RouterLink>
            <span class="note shrink-0"
              >{{ l.endsOn! < today ? 'ended ' : '' }}{{ when(l.endsOn!)
              }}{{ l.noticeOn ? `, warning from ${when(l.noticeOn)}` : '' }}</span
            >
          </li>
        </ul>
        <div v-if="session.canEdit" class="mt-3">
          <p class="note">Calendar programs can subscribe to these days. Whoever has the address can read them.</p>
          <p v-if="calendar" class="mt-1 flex flex-wrap items-center gap-3">
            <span class="code min-w-0 truncate">{{ calendarAddress }}</span>
            <button type="button" class="press-quiet" @click="voice.copy(calendarAddress, 'The address is copied.')">Copy it</button>
          </p>
          <p class="mt-2 flex gap-4">
            <button type="button" class="press-quiet" @click="renew">
              {{ calendar ? 'Make a new address' : 'Make an address for calendars' }}
            </button>
            <button v-if="calendar" type="button" class="link" @click="switchOff">Switch it off</button>
          </p>
        </div>
      </section>
      <section v-if="bare.length > 0" class="mt-8" aria-labelledby="bare">
        <h2 id="bare">Nothing on record</h2>
        <div class="mt-2 flex items-baseline justify-between gap-4 border-y border-rule py-2">
          <p class="min-w-0">
            <template v-for="(f, i) in bare.slice(0, 12)" :key="f.id"
              >{{ i > 0 ? ', ' : ''
              }}<RouterLink class="link" :to="{ path: '/library', query: { face: f.leadFaceId } }">{{ f.name }}</RouterLink></template
            >{{ bare.length > 12 ? ` and ${bare.length - 12} more` : '' }}.
            <span class="note">Every use says “Ask first”.</span>
          </p>
          <RouterLink v-if="session.canEdit" class="press-quiet shrink-0" :to="{ path: '/licenses/new', query: { bare: '1' } }">{{
            bare.length === 1 ? 'Record it' : 'Record one license for them'
          }}</RouterLink>
        </div>
      </section>
      <section class="mt-8" aria-labelledby="kept">
        <h2 id="kept">On record</h2>
        <p v-if="lines.length === 0" class="mt-2 text-soft">No license is on record yet.</p>
        <div v-else class="mt-2 overflow-x-auto" tabindex="0" role="region" aria-label="Licenses by use">
          <table class="w-full border-t border-rule text-left">
            <thead>
              <tr class="note align-bottom">
                <th scope="col" class="py-2 pr-4 font-normal">License</th>
                <th v-for="use in USES" :key="use" scope="col" class="px-1 py-2 font-normal">
                  <span
                    class="block h-[140px] rotate-180 text-left whitespace-nowrap [text-orientation:sideways] [writing-mode:vertical-rl]"
                    >{{ USE_WORDS[use].label }}</span
                  >
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="n in lines" :key="n.key" class="border-t border-rule align-baseline">
                <th scope="row" class="max-w-96 py-2 pr-4 font-normal">
                  <RouterLink v-if="n.licenses.length === 1" class="link" :to="`/licenses/${n.licenses[0]!.id}`">{{ n.name }}</RouterLink>
                  <span v-else>{{ n.name }}</span>
                  <span class="note block"
                    >{{ KIND_WORDS[n.licenses[0]!.kind] }}, {{ count(new Set(n.licenses.flatMap((l) => l.faceIds)).size, 'face') }} of
                    <template v-if="n.licenses.length === 1">{{ list(n.licenses[0]!.families, 3) || 'no family' }}</template>
                    <template v-for="(l, i) in n.licenses" v-else :key="l.id"
                      >{{ i > 0 ? ', ' : ''
                      }}<RouterLink class="link" :to="`/licenses/${l.id}`">{{ list(l.families, 2) || 'no family' }}</RouterLink></template
                    >{{ n.licenses[0]!.endsOn ? `, until ${when(n.licenses[0]!.endsOn)}` : ''
                    }}{{ n.licenses[0]!.confirmed ? '' : ', not confirmed' }}</span
                  >
                </th>
                <td v-for="use in USES" :key="use" class="px-1 py-2">
                  <VerdictMark :answer="n.licenses[0]!.answers[use]" short />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <section v-if="costs.length > 0" class="mt-8" aria-labelledby="costs">
        <h2 id="costs">What they cost</h2>
        <div class="mt-2 grid gap-8 sm:grid-cols-3">
          <div v-for="c in costs" :key="c.title">
            <h3>{{ c.title }}</h3>
            <dl class="mt-1">
              <div v-for="r in c.rows" :key="r.name" class="flex justify-between gap-4 border-b border-rule py-1">
                <dt class="truncate">{{ r.name }}</dt>
                <dd>{{ r.text }}</dd>
              </div>
            </dl>
          </div>
        </div>
      </section>
    </template>
  </div>
</template>
