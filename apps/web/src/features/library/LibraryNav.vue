<script setup lang="ts">
import { useRoute } from 'vue-router';

const route = useRoute();
const pages = [
  { to: '/library', name: 'Lines' },
  { to: '/library/languages', name: 'What they write' },
  { to: '/library/text', name: 'Check a text' },
  { to: '/library/proof', name: 'Proof sheets' },
  { to: '/library/words', name: 'Ready texts' },
  { to: '/library/order', name: 'Order and space' },
];
</script>

<template>
  <nav aria-label="Library" class="flex flex-wrap gap-x-5">
    <RouterLink
      v-for="p in pages"
      :key="p.to"
      :to="p.to"
      class="inline-block min-h-6 text-note leading-6 underline-offset-4 hover:underline"
      :class="route.path === p.to ? 'font-semibold text-ink underline' : 'text-action'"
      :aria-current="route.path === p.to ? 'page' : undefined"
      >{{ p.name }}</RouterLink
    >
  </nav>
</template>
