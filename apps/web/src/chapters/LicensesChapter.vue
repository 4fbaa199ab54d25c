<script setup lang="ts">
import type { License } from '@orderly-glyph/schema';
import { KIND_WORDS, USES, USE_WORDS } from '@orderly-glyph/schema';
import { computed, onMounted, ref } from 'vue';
import { call, routes, sentence } from '../api';
import VerdictMark from '../components/VerdictMark.vue';
import { useLibrary } from '../stores/library';
import { useSession } from '../stores/session';
import { count, list, when } from '../words';

const session = useSession();
const library = useLibrary();
const licenses = ref<License[] | null>(null);
const problem = ref('');
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
</script>

<template>
  <div class="mx-auto max-w-6xl px-6 py-8 max-sm:px-4">
    <h1>Licenses</h1>
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
                <th v-for="use in USES" :key="use" scope="col" class="px-2 py-2 font-normal">{{ USE_WORDS[use].label }}</th>
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
                <td v-for="use in USES" :key="use" class="px-2 py-2">
                  <VerdictMark :answer="l.confirmed ? (l.uses[use] ?? 'ask') : l.uses[use] === 'no' ? 'no' : 'ask'" />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
    </template>
  </div>
</template>
