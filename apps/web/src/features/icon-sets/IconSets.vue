<script setup lang="ts">
import { routes, type IconSetBrief } from '@orderly-glyph/schema';
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call, callUpload, sentence } from '../../platform/api';
import FoundryRooms from '../../platform/FoundryRooms.vue';
import { useVoice } from '../../platform/voice';
import { count, when } from '../../platform/words';
import { useSession } from '../accounts/session';
import IconMark from './IconMark.vue';

/** All icon sets of the workspace, a line each, and the beginning of a new one. */
const session = useSession();
const voice = useVoice();
const router = useRouter();
const sets = ref<IconSetBrief[]>([]);
const state = ref<'loading' | 'ready' | 'failed'>('loading');
const problem = ref('');
const beginning = ref(false);
const family = ref('');
const prefix = ref('');
/** Whether a person typed a prefix; until then it follows the name. */
const ownPrefix = ref(false);
const prefixOf = (name: string): string => {
  const word =
    name
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^a-z0-9 ]/g, '')
      .trim()
      .split(/\s+/)[0]
      ?.replace(/^[0-9]+/, '') ?? '';
  return word === '' ? '' : `${word.slice(0, 12)}-`;
};
function named(): void {
  if (!ownPrefix.value) prefix.value = prefixOf(family.value);
}
async function load(): Promise<void> {
  try {
    sets.value = await call(routes.listIconSets, {});
    state.value = 'ready';
  } catch (error) {
    problem.value = sentence(error);
    state.value = 'failed';
  }
}
onMounted(load);
async function begin(): Promise<void> {
  problem.value = '';
  try {
    const whole = prefix.value.trim().replace(/-*$/, '-');
    const made = await call(routes.createIconSet, {
      body: { family: family.value, prefix: whole, maker: session.session?.workspace?.name ?? '' },
    });
    await router.push(`/foundry/icons/${made.id}`);
  } catch (error) {
    problem.value = sentence(error);
  }
}
async function restore(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = '';
  if (!file) return;
  problem.value = '';
  try {
    const made = await callUpload(routes.restoreIconSet, {}, file);
    voice.say(`“${made.facts.family}” is back with ${count(made.drawings.length, 'drawing')}.`);
    await router.push(`/foundry/icons/${made.id}`);
  } catch (error) {
    problem.value = sentence(error);
  }
}
</script>

<template>
  <div class="h-full overflow-y-auto px-6 py-6 max-sm:px-4">
    <FoundryRooms />
    <div class="flex flex-wrap items-center justify-between gap-3">
      <h1>Icon sets</h1>
      <div v-if="session.canEdit" class="flex flex-wrap gap-3">
        <button v-if="!beginning" type="button" class="press" @click="beginning = true">Begin a set</button>
        <label class="press-quiet focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-action"
          >Bring one back from its file<input type="file" accept=".json,application/json" class="sr-only" @change="restore"
        /></label>
      </div>
    </div>
    <p class="mt-1 max-w-2xl text-soft">
      Drawings become a font that websites and print shops take. What a page shows today stays what it is in every later release.
    </p>
    <p v-if="problem" role="alert" class="mt-3 max-w-2xl border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
    <form v-if="beginning" class="mt-4 grid max-w-2xl grid-cols-2 gap-4 max-sm:grid-cols-1" @submit.prevent="begin">
      <label class="block"
        >Name of the family<input v-model="family" class="field mt-1" maxlength="60" required autofocus @input="named" /><span
          class="note mt-1 block"
          >As programs list it, such as “Hollin Icons”</span
        ></label
      >
      <label class="block"
        >Prefix of its classes<input
          v-model="prefix"
          class="field mt-1 font-mono"
          maxlength="24"
          required
          pattern="[a-z][a-z0-9]*(-[a-z0-9]+)*-?"
          @input="ownPrefix = true"
        /><span class="note mt-1 block"
          >No other set on the same website may have it: “{{ prefix.replace(/-*$/, '-') || 'seed-' }}water” is a class then</span
        ></label
      >
      <div class="col-span-full flex gap-3">
        <button class="press">Begin it</button><button type="button" class="press-quiet" @click="beginning = false">Leave it</button>
      </div>
    </form>
    <p v-if="state === 'loading'" class="mt-6 text-soft">Loading …</p>
    <p v-else-if="state === 'ready' && sets.length === 0 && !beginning" class="mt-6 text-soft">
      There is no set yet. Ten or twenty drawings are enough: one SVG each, on equal square boards, named as they are to be called.
    </p>
    <ul v-else class="mt-5 border-t border-rule">
      <li v-for="s in sets" :key="s.id" class="border-b border-rule py-4">
        <RouterLink
          :to="`/foundry/icons/${s.id}`"
          class="grid grid-cols-[14rem_minmax(0,1fr)_auto] items-center gap-x-6 gap-y-2 max-md:grid-cols-1"
        >
          <span class="font-serif text-[20px] leading-7">{{ s.family }}</span>
          <span class="flex flex-wrap gap-3 overflow-hidden"
            ><IconMark v-for="(path, i) in s.first" :key="i" :drawing="{ path, layers: [] }" :size="28"
          /></span>
          <span class="note"
            >{{ count(s.drawings, 'drawing') }}, {{ s.release > 0 ? `release ${s.release}` : 'not released yet' }}<br />changed
            {{ when(s.changedAt) }}</span
          >
        </RouterLink>
      </li>
    </ul>
  </div>
</template>
