<script setup lang="ts">
import { onMounted, ref } from 'vue';
import type { Answer, Role } from '@orderly-glyph/schema';
import { call, routes, sentence } from '../api';
import { useSession } from '../stores/session';
import { useVoice } from '../stores/voice';

const session = useSession();
const voice = useVoice();
const people = ref<Answer<typeof routes.listMembers> | null>(null);
const form = ref({ name: '', email: '', password: '', role: 'editor' as Role });
const problem = ref('');
const ROLES: { value: Role; word: string }[] = [
  { value: 'owner', word: 'Owner: everything, people and places too' },
  { value: 'editor', word: 'Editor: bring in, license, deliver' },
  { value: 'viewer', word: 'Viewer: look and download' },
];
async function load(): Promise<void> {
  try {
    people.value = await call(routes.listMembers);
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
onMounted(load);
async function add(): Promise<void> {
  problem.value = '';
  try {
    await call(routes.addMember, { body: form.value });
    form.value = { name: '', email: '', password: '', role: 'editor' };
    await load();
  } catch (error) {
    problem.value = sentence(error);
  }
}
async function change(memberId: string, role: Role): Promise<void> {
  await call(routes.changeMember, { params: { memberId }, body: { role } }).catch((error: unknown) => voice.say(sentence(error), 'fault'));
  await load();
}
async function remove(memberId: string, name: string): Promise<void> {
  try {
    await call(routes.removeMember, { params: { memberId } });
    voice.say(`${name} is out of the workspace.`);
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
  await load();
}
</script>

<template>
  <div class="mx-auto max-w-4xl px-6 py-8 max-sm:px-4">
    <h1>People of {{ session.session?.workspace?.name }}</h1>
    <ul v-if="people" class="mt-5 border-t border-rule">
      <li v-for="p in people" :key="p.id" class="flex flex-wrap items-center justify-between gap-3 border-b border-rule py-3">
        <div>
          <p>{{ p.name }}{{ p.you ? ', that is you' : '' }}</p>
          <p class="note">{{ p.email }}</p>
        </div>
        <div class="flex items-center gap-3">
          <select
            v-if="session.isOwner"
            class="field w-auto"
            :value="p.role"
            :aria-label="`Role of ${p.name}`"
            @change="change(p.id, ($event.target as HTMLSelectElement).value as Role)"
          >
            <option v-for="r in ROLES" :key="r.value" :value="r.value">{{ r.value }}</option>
          </select>
          <span v-else>{{ p.role }}</span>
          <button v-if="session.isOwner && !p.you" type="button" class="link" @click="remove(p.id, p.name)">
            Take out <span class="sr-only">{{ p.name }}</span>
          </button>
        </div>
      </li>
    </ul>
    <form v-if="session.isOwner" class="mt-8" @submit.prevent="add">
      <h2>Add a person</h2>
      <div class="mt-3 grid gap-4 sm:grid-cols-2">
        <label>Name<input v-model="form.name" class="field" required maxlength="120" /></label>
        <label>E-mail address<input v-model="form.email" class="field" type="email" required /></label>
        <label
          >First password<input
            v-model="form.password"
            class="field"
            type="password"
            autocomplete="new-password"
            required
            minlength="10"
          /><span class="note">At least 10 characters; hand it over yourself</span></label
        >
        <label
          >Role<select v-model="form.role" class="field">
            <option v-for="r in ROLES" :key="r.value" :value="r.value">{{ r.word }}</option>
          </select></label
        >
      </div>
      <p v-if="problem" role="alert" class="mt-3 text-no">{{ problem }}</p>
      <button class="press mt-4">Add them</button>
    </form>
  </div>
</template>
