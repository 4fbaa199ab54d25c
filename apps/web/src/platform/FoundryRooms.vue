<script setup lang="ts">
import { useRoute } from 'vue-router';

/** What is made in the foundry, each with a room of its own. */
const ROOMS = [
  { to: '/foundry', name: 'Convert' },
  { to: '/foundry/icons', name: 'Icon sets' },
  { to: '/foundry/typefaces', name: 'Drawn typefaces' },
  { to: '/foundry/pictures', name: 'Faces in pictures' },
] as const;
const route = useRoute();
</script>

<template>
  <nav aria-label="Foundry" class="mb-3 flex gap-5">
    <RouterLink
      v-for="r in ROOMS"
      :key="r.to"
      :to="r.to"
      class="inline-flex min-h-6 items-center"
      :class="(r.to === '/foundry' ? route.path === r.to : route.path.startsWith(r.to)) ? 'font-semibold' : 'link'"
      >{{ r.name }}</RouterLink
    >
  </nav>
</template>
