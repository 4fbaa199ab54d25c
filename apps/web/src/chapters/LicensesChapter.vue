<script setup lang="ts">
import type { License } from '@orderly-glyph/schema';
import { KIND_WORDS, limitsOf, USES, USE_WORDS } from '@orderly-glyph/schema';
import { computed, onMounted, ref } from 'vue';
import { call, routes, sentence } from '../api';
import TermLine from '../components/TermLine.vue';
import VerdictMark from '../components/VerdictMark.vue';
import { useLibrary } from '../stores/library';
import { useSession } from '../stores/session';
import { useVoice } from '../stores/voice';
import { count, list, money, when } from '../words';

const session = useSession();
const voice = useVoice();
const library = useLibrary();
const licenses = ref<License[] | null>(null);
const problem = ref('');
const today = new Date().toLocaleDateString('sv-SE');
/** What a license alone answers; faces may have several, and the file may object. */
function answerOf(l: License, use: (typeof USES)[number]): 'yes' | 'ask' | 'no' {
  if ((l.endsOn !== null && l.endsOn < today) || (l.startsOn !== null && l.startsOn > today)) return 'no';
  const said = l.uses[use] ?? 'ask';
  if (said === 'no' || limitsOf(use).some((key) => l.limits[key] !== undefined && (l.counters[key] ?? 0) > l.limits[key])) return 'no';
  return l.confirmed ? said : 'ask';
}
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
      <section v-if="bare.length > 0" class="mt-6" aria-labelledby="bare">
        <h2 id="bare">Nothing on record</h2>
        <ul class="mt-2 border-t border-rule">
          <li v-for="f in bare" :key="f.id" class="flex items-center justify-between gap-4 border-b border-rule py-2">
            <RouterLink class="link truncate" :to="{ path: '/library', query: { face: f.leadFaceId } }">{{ f.name }}</RouterLink>
            <span class="flex items-center gap-4">
              <span class="note max-sm:hidden">Every use says “Ask first”</span>
              <RouterLink v-if="session.canEdit" class="press-quiet" :to="{ path: '/licenses/new', query: { family: f.id } }"
                ><span>Record it</span><span class="sr-only">, the license of {{ f.name }}</span></RouterLink
              >
            </span>
          </li>
        </ul>
      </section>
      <section class="mt-8" aria-labelledby="kept">
        <h2 id="kept">On record</h2>
        <p v-if="licenses.length === 0" class="mt-2 text-soft">No license is on record yet.</p>
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
              <tr v-for="l in licenses" :key="l.id" class="border-t border-rule align-baseline">
                <th scope="row" class="max-w-80 py-2 pr-4 font-normal">
                  <RouterLink class="link" :to="`/licenses/${l.id}`">{{ l.name }}</RouterLink>
                  <span class="note block"
                    >{{ KIND_WORDS[l.kind] }}, {{ count(l.faceIds.length, 'face') }} of {{ list(l.families, 2) || 'no family'
                    }}{{ l.endsOn ? `, until ${when(l.endsOn)}` : '' }}{{ l.confirmed ? '' : ', not confirmed' }}</span
                  >
                </th>
                <td v-for="use in USES" :key="use" class="px-1 py-2">
                  <VerdictMark :answer="answerOf(l, use)" short />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
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
          <p v-if="calendar" class="code mt-1">{{ calendarAddress }}</p>
          <button type="button" class="press-quiet mt-2" @click="renew">
            {{ calendar ? 'Make a new address' : 'Make an address for calendars' }}
          </button>
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
