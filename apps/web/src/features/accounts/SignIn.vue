<script setup lang="ts">
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import type { Session } from '@orderly-glyph/schema';
import { ApiProblem, call, routes, sentence } from '../../platform/api';
import { useLibrary } from '../library/library';
import { useSession } from './session';

const session = useSession();
const library = useLibrary();
const route = useRoute();
const router = useRouter();
const making = ref(false);
const busy = ref(false);
const problem = ref('');
const field = ref('');
const form = ref({ name: '', workspace: '', email: '', password: '' });
const unreachable = computed(() => session.session === null);

async function enter(ask: () => Promise<Session>): Promise<void> {
  busy.value = true;
  problem.value = '';
  field.value = '';
  try {
    session.set(await ask());
    library.forget();
    void library.load();
    const to =
      typeof route.query.to === 'string' && route.query.to.startsWith('/') && !route.query.to.startsWith('//') ? route.query.to : '/desk';
    await router.push(to);
  } catch (error) {
    problem.value = sentence(error);
    field.value = error instanceof ApiProblem ? (error.field ?? '') : '';
  } finally {
    busy.value = false;
  }
}
const submit = (): Promise<void> =>
  enter(() =>
    making.value
      ? call(routes.createAccount, { body: { ...form.value, timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC' } })
      : call(routes.signIn, { body: { email: form.value.email, password: form.value.password } }),
  );
const startOver = (): Promise<void> =>
  enter(async () => {
    await call(routes.startSampleOver);
    return call(routes.openDemo);
  });
const openDemo = (): Promise<void> => enter(() => call(routes.openDemo));
</script>

<template>
  <div class="mx-auto grid min-h-full max-w-5xl items-center gap-16 px-6 py-10 md:grid-cols-[1fr_22rem]">
    <div>
      <p class="font-serif text-[22px]">Orderly <span class="italic">Glyph</span></p>
      <h1 class="mt-6 text-[44px] leading-[50px]">Every typeface you have, in order: what it is, whether you may, and where it went.</h1>
      <p class="mt-5 max-w-lg font-serif text-[19px] leading-7 text-soft">
        Bring the ZIP as you downloaded it. See each face in your own words, keep its terms beside it, and put it on your website in the
        format that site takes.
      </p>
      <div v-if="session.session?.demoAvailable" class="mt-8">
        <button type="button" class="press" :disabled="busy" @click="openDemo">Open the demo</button>
        <button type="button" class="press-quiet ml-3" :disabled="busy" @click="startOver">Start the sample over</button>
        <p class="note mt-2 max-w-sm">Hollin Bank Seeds, an invented shop of two people who print, sell and write in eight languages.</p>
      </div>
    </div>
    <form class="border-t-2 border-ink pt-5" @submit.prevent="submit">
      <h2>{{ making ? 'Make an account' : 'Sign in' }}</h2>
      <p v-if="unreachable" class="mt-2 text-no">The server does not answer. See that it runs, then reload this page.</p>
      <div class="mt-4 flex flex-col gap-3">
        <template v-if="making">
          <label>Your name<input v-model="form.name" class="field" autocomplete="name" required maxlength="120" /></label>
          <label
            >Name of your business<input v-model="form.workspace" class="field" autocomplete="organization" required maxlength="120"
          /></label>
        </template>
        <label
          >E-mail address<input
            v-model="form.email"
            class="field"
            type="email"
            autocomplete="username"
            required
            :aria-invalid="field === 'email'"
        /></label>
        <label>
          Password
          <input
            v-model="form.password"
            class="field"
            type="password"
            :autocomplete="making ? 'new-password' : 'current-password'"
            required
            :minlength="making ? 10 : undefined"
          />
          <span v-if="making" class="note">At least 10 characters</span>
        </label>
      </div>
      <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
      <div class="mt-4 flex items-center gap-4">
        <button class="press" :class="{ 'press-quiet': !making && session.session?.demoAvailable }" :disabled="busy">
          {{ making ? 'Make the account' : 'Sign in' }}
        </button>
        <button type="button" class="link" @click="making = !making">{{ making ? 'I have an account' : 'Make an account' }}</button>
      </div>
    </form>
  </div>
</template>
