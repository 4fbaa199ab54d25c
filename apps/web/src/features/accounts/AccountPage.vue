<script setup lang="ts">
import type { OwnSession } from '@orderly-glyph/schema';
import { onMounted, ref } from 'vue';
import { ApiProblem, call, routes, sentence } from '../../platform/api';
import { useSession } from './session';
import { useVoice } from '../../platform/voice';
import { when } from '../../platform/words';

/** One's own name, address, password and sessions. */
const session = useSession();
const voice = useVoice();
const sessions = ref<OwnSession[]>([]);
const form = ref({ name: session.session?.account?.name ?? '', email: session.session?.account?.email ?? '', password: '', current: '' });
const problem = ref('');
const field = ref('');
async function load(): Promise<void> {
  sessions.value = await call(routes.listSessions).catch(() => []);
}
onMounted(load);
async function save(): Promise<void> {
  problem.value = '';
  field.value = '';
  const { name, email, password, current } = form.value;
  try {
    session.set(await call(routes.changeAccount, { body: { name, email, current, ...(password ? { password } : {}) } }));
    form.value = { ...form.value, password: '', current: '' };
    voice.say(password ? 'Kept. All other browsers are signed out.' : 'Kept.');
    await load();
  } catch (error) {
    problem.value = sentence(error);
    field.value = error instanceof ApiProblem ? (error.field ?? '') : '';
  }
}
async function end(s: OwnSession): Promise<void> {
  try {
    await call(routes.endSession, { params: { sessionId: s.id } });
    voice.say('That browser is signed out.');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
  await load();
}
/** A browser in a few words; what it calls itself is long and means little. */
function browserOf(agent: string): string {
  const name = /Firefox\//.test(agent)
    ? 'Firefox'
    : /Edg\//.test(agent)
      ? 'Edge'
      : /Chrom(e|ium)\//.test(agent)
        ? 'Chromium'
        : /Safari\//.test(agent)
          ? 'Safari'
          : 'A browser';
  const on = /Android/.test(agent)
    ? 'Android'
    : /iPhone|iPad/.test(agent)
      ? 'iOS'
      : /Mac OS/.test(agent)
        ? 'macOS'
        : /Windows/.test(agent)
          ? 'Windows'
          : /Linux/.test(agent)
            ? 'Linux'
            : '';
  return on ? `${name} on ${on}` : name;
}
</script>

<template>
  <div class="mx-auto max-w-3xl px-6 py-8 max-sm:px-4">
    <h1>Your account</h1>
    <form class="mt-4" @submit.prevent="save">
      <div class="grid gap-4 sm:grid-cols-2">
        <label>Your name<input v-model="form.name" class="field" autocomplete="name" required maxlength="120" /></label>
        <label
          >E-mail address<input
            v-model="form.email"
            class="field"
            type="email"
            autocomplete="username"
            required
            :aria-invalid="field === 'email'"
        /></label>
        <label
          >New password<input
            v-model="form.password"
            class="field"
            type="password"
            autocomplete="new-password"
            minlength="10"
            :aria-invalid="field === 'password'"
          /><span class="note">Left empty, it stays as it is</span></label
        >
        <label
          >Current password<input
            v-model="form.current"
            class="field"
            type="password"
            autocomplete="current-password"
            :aria-invalid="field === 'current'"
          /><span class="note">Needed for a new address or password, which sign all other browsers out</span></label
        >
      </div>
      <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
      <button class="press mt-4">Keep it</button>
    </form>
    <section class="mt-8" aria-labelledby="sessions">
      <h2 id="sessions">Where you are signed in</h2>
      <ul class="mt-1 border-t border-rule">
        <li v-for="s in sessions" :key="s.id" class="flex items-baseline justify-between gap-4 border-b border-rule py-2">
          <span
            >{{ browserOf(s.agent) }}{{ s.current ? ', this one' : '' }}
            <span class="note">since {{ when(s.createdAt) }}, last used {{ when(s.seenAt) }}</span></span
          >
          <button v-if="!s.current" type="button" class="link text-note" @click="end(s)">
            Sign it out<span class="sr-only">: {{ browserOf(s.agent) }}, since {{ when(s.createdAt) }}</span>
          </button>
        </li>
      </ul>
    </section>
  </div>
</template>
