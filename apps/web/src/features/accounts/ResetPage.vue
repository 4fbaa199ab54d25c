<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { call, routes, sentence } from '../../platform/api';

/** Where an owner's address for a new password leads. */
const props = defineProps<{ token: string }>();
const by = ref('');
const problem = ref('');
const password = ref('');
const done = ref(false);
onMounted(async () => {
  try {
    by.value = (await call(routes.readReset, { params: { token: props.token } })).by;
  } catch (error) {
    problem.value = sentence(error);
  }
});
async function save(): Promise<void> {
  problem.value = '';
  try {
    await call(routes.useReset, { params: { token: props.token }, body: { password: password.value } });
    done.value = true;
  } catch (error) {
    problem.value = sentence(error);
  }
}
</script>

<template>
  <div class="mx-auto max-w-xl px-6 py-10">
    <p class="font-serif text-[22px]">Orderly <span class="italic">Glyph</span></p>
    <h1 class="mt-5">A new password</h1>
    <p v-if="done" class="mt-3">It is set, and every browser is signed out. <RouterLink class="link" to="/sign-in">Sign in</RouterLink></p>
    <form v-else-if="by" class="mt-3 flex flex-col gap-3" @submit.prevent="save">
      <p class="text-soft">{{ by }} made this address for you. It works once.</p>
      <label
        >Password<input v-model="password" class="field" type="password" autocomplete="new-password" required minlength="10" /><span
          class="note"
          >At least 10 characters; only you know it</span
        ></label
      >
      <button class="press self-start">Set it</button>
    </form>
    <p v-if="problem" role="alert" class="mt-4 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
  </div>
</template>
