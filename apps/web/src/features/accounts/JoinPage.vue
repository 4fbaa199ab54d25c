<script setup lang="ts">
import type { Answer } from '@orderly-glyph/schema';
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call, routes, sentence } from '../../platform/api';
import { useLibrary } from '../library/library';
import { useSession } from './session';

/** Where an invitation leads: joining is the invited person's own act. */
const props = defineProps<{ token: string }>();
const session = useSession();
const library = useLibrary();
const router = useRouter();
const found = ref<Answer<typeof routes.readInvitation> | null>(null);
const problem = ref('');
const busy = ref(false);
const form = ref({ name: '', email: '', password: '' });
onMounted(async () => {
  try {
    found.value = await call(routes.readInvitation, { params: { token: props.token } });
  } catch (error) {
    problem.value = sentence(error);
  }
});
async function join(withNew: boolean): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    session.set(await call(routes.acceptInvitation, { params: { token: props.token }, body: { account: withNew ? form.value : null } }));
    library.forget();
    void library.load();
    await router.push('/desk');
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
const mine = (): boolean => session.session?.signedIn === true && !session.session.account?.demo;
</script>

<template>
  <div class="mx-auto max-w-xl px-6 py-10">
    <p class="font-serif text-[22px]">Orderly <span class="italic">Glyph</span></p>
    <template v-if="found">
      <h1 class="mt-5">{{ found.by }} invites you to {{ found.workspace }}</h1>
      <p class="mt-2 text-soft">You would be {{ found.role === 'viewer' ? 'a' : 'an' }} {{ found.role }} there.</p>
      <div v-if="mine()" class="mt-5 border-y border-rule py-4">
        <p>You are signed in as {{ session.session!.account!.name }}.</p>
        <button type="button" class="press mt-3" :disabled="busy" @click="join(false)">Join with this account</button>
      </div>
      <p v-else class="mt-5">
        <RouterLink class="link" :to="{ path: '/sign-in', query: { to: `/join/${token}` } }">Sign in with the account you have</RouterLink>,
        or make one:
      </p>
      <form v-if="!mine()" class="mt-3 flex flex-col gap-3" @submit.prevent="join(true)">
        <label>Your name<input v-model="form.name" class="field" autocomplete="name" required maxlength="120" /></label>
        <label>E-mail address<input v-model="form.email" class="field" type="email" autocomplete="username" required /></label>
        <label
          >Password<input v-model="form.password" class="field" type="password" autocomplete="new-password" required minlength="10" /><span
            class="note"
            >At least 10 characters; only you know it</span
          ></label
        >
        <button class="press self-start" :disabled="busy">Join with a new account</button>
      </form>
    </template>
    <p v-if="problem" role="alert" class="mt-4 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
  </div>
</template>
