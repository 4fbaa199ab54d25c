<script setup lang="ts">
defineProps<{ done: number; total: number; label: string }>();
</script>

<template>
  <div
    role="progressbar"
    :aria-valuenow="done"
    aria-valuemin="0"
    :aria-valuemax="total || undefined"
    :aria-label="label"
    class="h-1 w-full overflow-hidden bg-rule"
  >
    <div
      class="h-full bg-action transition-[width] duration-200"
      :style="{ width: total > 0 ? `${Math.min(100, (100 * done) / total)}%` : '12%' }"
    ></div>
  </div>
</template>
