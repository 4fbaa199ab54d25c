<script setup lang="ts">
import { routes, type CharacterWish, type TypefaceBrief } from '@orderly-glyph/schema';
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call, callUpload, sentence } from '../../platform/api';
import FoundryRooms from '../../platform/FoundryRooms.vue';
import { useVoice } from '../../platform/voice';
import { count, when } from '../../platform/words';
import { useSession } from '../accounts/session';
import { useLibrary } from '../library/library';
import WishForm from './WishForm.vue';

/** All typefaces in the making, and the beginning of a new one. */
const session = useSession();
const library = useLibrary();
const voice = useVoice();
const router = useRouter();
const faces = ref<TypefaceBrief[]>([]);
const state = ref<'loading' | 'ready' | 'failed'>('loading');
const problem = ref('');
const beginning = ref(false);
const family = ref('');
const DRAWN = ['Latn', 'Cyrl', 'Grek'];
const usual = (): CharacterWish => {
  const own = library.languages.filter((l) => library.ownLanguages.includes(l.tag) && DRAWN.includes(l.script)).map((l) => l.tag);
  return {
    languages: own.length > 0 ? own : ['en'],
    figures: true,
    punctuation: true,
    currency: true,
    fractions: false,
    capitalsOnly: false,
    variants: 0,
    ligatures: [],
    also: '',
  };
};
const wish = ref<CharacterWish>(usual());
async function load(): Promise<void> {
  try {
    faces.value = await call(routes.listTypefaces, {});
    state.value = 'ready';
  } catch (error) {
    problem.value = sentence(error);
    state.value = 'failed';
  }
}
onMounted(load);
function start(): void {
  wish.value = usual();
  beginning.value = true;
}
async function begin(): Promise<void> {
  problem.value = '';
  try {
    const made = await call(routes.createTypeface, {
      body: { family: family.value, maker: session.session?.workspace?.name ?? '', wish: wish.value },
    });
    await router.push({ path: `/foundry/typefaces/${made.id}`, query: { view: 'sheets' } });
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
    const made = await callUpload(routes.restoreTypeface, {}, file);
    voice.say(`“${made.facts.family}” is back.`);
    await router.push(`/foundry/typefaces/${made.id}`);
  } catch (error) {
    problem.value = sentence(error);
  }
}
</script>

<template>
  <div class="h-full overflow-y-auto px-6 py-6 max-sm:px-4">
    <FoundryRooms />
    <div class="flex flex-wrap items-center justify-between gap-3">
      <h1>Drawn typefaces</h1>
      <div v-if="session.canEdit" class="flex flex-wrap gap-3">
        <button v-if="!beginning" type="button" class="press" @click="start">Begin a typeface</button>
        <label class="press-quiet focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-action"
          >Bring one back from its file<input type="file" accept=".json,application/json" class="sr-only" @change="restore"
        /></label>
      </div>
    </div>
    <p class="mt-1 max-w-2xl text-soft">
      Letters from a printed sheet, from the screen or from vector drawings become a face with accents, spacing and kerning.
    </p>
    <p v-if="problem" role="alert" class="mt-3 max-w-2xl border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
    <form v-if="beginning" class="mt-4 max-w-3xl" @submit.prevent="begin">
      <label class="mb-4 block max-w-md"
        >Name of the family<input v-model="family" class="field mt-1" maxlength="60" required autofocus /><span class="note mt-1 block"
          >As programs list it, such as “Hollin Hand”</span
        ></label
      >
      <WishForm v-model="wish" />
      <p class="mt-5 flex gap-3">
        <button class="press">Begin it</button><button type="button" class="press-quiet" @click="beginning = false">Leave it</button>
      </p>
    </form>
    <p v-if="state === 'loading'" class="mt-6 text-soft">Loading …</p>
    <p v-else-if="state === 'ready' && faces.length === 0 && !beginning" class="mt-6 max-w-2xl text-soft">
      There is none yet. Print a sheet, fill its boxes with a dark pen that has a hard edge, and photograph it: about sixty letters make a
      face.
    </p>
    <ul v-else class="mt-5 border-t border-rule">
      <li v-for="f in faces" :key="f.id" class="border-b border-rule py-4">
        <RouterLink :to="`/foundry/typefaces/${f.id}`" class="flex flex-wrap items-baseline justify-between gap-x-6">
          <span class="font-serif text-[20px] leading-7">{{ f.family }} {{ f.style === 'Regular' ? '' : f.style }}</span>
          <span class="note"
            >{{ count(f.letters, 'letter') }}, {{ f.release > 0 ? `release ${f.release}` : 'not released yet' }}, changed
            {{ when(f.changedAt) }}</span
          >
        </RouterLink>
      </li>
    </ul>
  </div>
</template>
