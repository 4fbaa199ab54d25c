<script setup lang="ts">
import type { Answer } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import { call, routes, sentence } from '../../platform/api';
import { count, when } from '../../platform/words';
import { useSession } from '../accounts/session';

/** What must come off where: of some faces, of a license, of a place, or of every right that has ended. */
const { param, several } = useAddress();
const router = useRouter();
const session = useSession();
const plan = ref<Answer<typeof routes.planWithdrawal>['installs'] | null>(null);
const chosen = ref<string[]>([]);
const problem = ref('');
const busy = ref(false);
watch(
  () => [param('faces'), param('license'), param('place'), param('ended')].join(' '),
  async () => {
    plan.value = null;
    problem.value = '';
    try {
      const found = await call(routes.planWithdrawal, {
        body: {
          faceIds: several('faces'),
          licenseId: param('license') || null,
          placeId: param('place') || null,
          ended: param('ended') === '1',
        },
      });
      plan.value = found.installs;
      // Everything of what was asked for; of a place, a person chooses.
      chosen.value = param('place') ? [] : found.installs.filter((i) => !i.byHand).map((i) => i.id);
    } catch (error) {
      problem.value = sentence(error);
    }
  },
  { immediate: true },
);
const byPlace = computed(() => {
  const out = new Map<string, NonNullable<typeof plan.value>>();
  for (const i of plan.value ?? []) out.set(i.place, [...(out.get(i.place) ?? []), i]);
  return [...out];
});
async function withdraw(): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    const batchId = crypto.randomUUID();
    await call(routes.withdraw, { body: { batchId, installIds: chosen.value } });
    await router.push(`/deliveries/batch/${batchId}`);
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div class="mx-auto max-w-4xl px-6 py-8 max-sm:px-4">
    <p class="note"><RouterLink class="link" to="/places">Places</RouterLink></p>
    <h1>What comes off where</h1>
    <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
    <p v-if="plan === null && !problem" class="mt-4 text-soft">Looking it up …</p>
    <p v-else-if="plan?.length === 0" class="mt-4 text-soft">Nothing of it lies at any place.</p>
    <template v-else-if="plan">
      <p class="mt-2 text-soft">
        Each file is removed at its place, and then looked for there; the proof stays on record. The faces stay in the library.
      </p>
      <section v-for="[place, installs] in byPlace" :key="place" class="mt-6">
        <h2>{{ place }}</h2>
        <ul class="mt-1 border-t border-rule">
          <li v-for="i in installs" :key="i.id" class="border-b border-rule py-2">
            <label class="flex items-baseline gap-3"
              ><input v-if="!i.byHand" v-model="chosen" type="checkbox" class="accent-action" :value="i.id" /><span class="flex-1">{{
                i.face
              }}</span
              ><span class="note">{{ i.version }}, since {{ when(i.installedAt) }}{{ i.role ? `, ${i.role}` : '' }}</span></label
            >
            <p v-for="s in i.byHandSteps" :key="s" class="note">{{ s }}</p>
            <RouterLink v-if="i.byHand" class="link" :to="`/places/${i.placeId}`">Confirm it there</RouterLink>
          </li>
        </ul>
      </section>
      <button v-if="session.canEdit" type="button" class="press mt-6" :disabled="busy || chosen.length === 0" @click="withdraw">
        {{ busy ? 'Taking off …' : `Take ${count(chosen.length, 'file')} off` }}
      </button>
    </template>
  </div>
</template>
