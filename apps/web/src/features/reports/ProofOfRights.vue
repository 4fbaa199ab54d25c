<script setup lang="ts">
import type { License } from '@orderly-glyph/schema';
import { computed, onMounted, ref } from 'vue';
import { useAddress } from '../../platform/address';
import { call, routes } from '../../platform/api';
import ProofOfRightsForm from './ProofOfRightsForm.vue';
import { useLibrary } from '../library/library';
import { count, list, money } from '../../platform/words';

const library = useLibrary();
const { param } = useAddress();
const faces = computed(() =>
  param('faces')
    .split(',')
    .flatMap((id) => library.faces.get(id) ?? []),
);
/** What the licenses of these faces cost in all, each license once. */
const licenses = ref<License[]>([]);
onMounted(async () => {
  licenses.value = await call(routes.listLicenses).catch(() => []);
});
const cost = computed(() => {
  const ids = new Set(faces.value.map((f) => f.face.id));
  const sums = new Map<string, number>();
  for (const l of licenses.value)
    if (l.price !== null && l.currency !== null && l.faceIds.some((id) => ids.has(id)))
      sums.set(l.currency, (sums.get(l.currency) ?? 0) + l.price);
  return list([...sums].map(([currency, sum]) => money(sum, currency)));
});
</script>

<template>
  <div class="mx-auto max-w-2xl px-6 py-8 max-sm:px-4">
    <RouterLink class="link text-note" to="/licenses">Licenses</RouterLink>
    <h1>Proof of rights</h1>
    <p class="mt-1 text-soft">What you show when somebody asks whether you may: what is on record for these faces, and what it rests on.</p>
    <p v-if="library.state !== 'ready'" class="mt-4 text-soft">{{ library.state === 'failed' ? library.problem : 'Looking …' }}</p>
    <p v-else-if="faces.length === 0" class="mt-4">
      No face was chosen. <RouterLink class="link" to="/library">Pick some up in the library</RouterLink>
    </p>
    <template v-else>
      <h2 class="mt-6">{{ count(faces.length, 'face') }}</h2>
      <ul class="mt-1 border-t border-rule">
        <li v-for="{ face, family } in faces" :key="face.id" class="flex justify-between gap-4 border-b border-rule py-1.5">
          <span class="truncate">{{ family.name }} {{ face.style }}</span>
          <span class="note shrink-0">{{ family.licenseName ?? 'nothing on record' }}</span>
        </li>
      </ul>
      <p v-if="cost" class="mt-3">Their licenses cost {{ cost }} in all.</p>
      <ProofOfRightsForm class="mt-5" :face-ids="faces.map((f) => f.face.id)" />
    </template>
  </div>
</template>
