<script setup lang="ts">
import { X } from '@lucide/vue';
import { computed, ref, watch } from 'vue';
import { useSession } from '../accounts/session';
import { useTray } from './tray';
import LiveText from '../faces/LiveText.vue';
import OrderBar from './OrderBar.vue';

const tray = useTray();
const session = useSession();
const ids = computed(() => tray.faces.map((f) => f.face.id).join(','));
/** As many as are set live; the tray may hold a whole library. */
const MOST = 12;
const ordering = ref(false);
watch(
  () => tray.families.length,
  (n) => {
    if (n === 0) ordering.value = false;
  },
);
</script>

<template>
  <section aria-label="Tray" class="flex flex-wrap items-center gap-x-4 gap-y-2 border-t-2 border-ink bg-sheet px-6 py-2 max-sm:px-4">
    <OrderBar v-if="ordering" class="w-full border-b border-rule pb-2" :families="tray.families" @clear="tray.clear()" />
    <p class="note shrink-0">{{ tray.faces.length }} in the tray</p>
    <ul class="flex min-w-64 flex-1 gap-4 overflow-x-auto">
      <li v-for="{ face, family } in tray.faces.slice(0, MOST)" :key="face.id" class="flex shrink-0 items-center gap-1">
        <LiveText :face="face" :text="family.name" class="max-w-52 truncate text-[20px] leading-7" />
        <span class="note">{{ face.style }}</span>
        <button
          type="button"
          class="small-target text-soft hover:text-no"
          :aria-label="`Put down ${family.name} ${face.style}`"
          @click="tray.toggle(face.id)"
        >
          <X :size="14" aria-hidden="true" />
        </button>
      </li>
      <li v-if="tray.faces.length > MOST" class="note shrink-0 self-center">and {{ tray.faces.length - MOST }} more</li>
    </ul>
    <div class="flex shrink-0 flex-wrap items-center gap-2">
      <button v-if="session.canEdit" type="button" class="press-quiet" :aria-expanded="ordering" @click="ordering = !ordering">
        Put in order
      </button>
      <RouterLink v-if="tray.faces.length > 1" class="press-quiet" :to="{ path: '/library/compare', query: { faces: ids } }"
        >Compare</RouterLink
      >
      <RouterLink v-if="session.canEdit" class="press-quiet" :to="{ path: '/licenses/new', query: { faces: ids } }"
        >Record a license</RouterLink
      >
      <RouterLink class="press-quiet" :to="{ path: '/licenses/proof', query: { faces: ids } }">Proof of rights</RouterLink>
      <RouterLink class="press-quiet" :to="{ path: '/foundry', query: { faces: ids } }">Convert</RouterLink>
      <RouterLink class="press-quiet" :to="{ path: '/handover', query: { faces: ids } }">Web kit</RouterLink>
      <RouterLink class="press" :to="{ path: '/places/check', query: { faces: ids } }">Check for a place</RouterLink>
      <button type="button" class="link px-1" @click="tray.clear()">Empty</button>
    </div>
  </section>
</template>
