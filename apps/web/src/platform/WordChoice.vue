<script setup lang="ts">
/** One of a few words, chosen by a press; the chosen one is underlined. */
defineProps<{ words: Readonly<Record<string, string>>; label: string }>();
const chosen = defineModel<string>({ required: true });
</script>

<template>
  <div class="flex flex-wrap gap-x-4 gap-y-1" role="group" :aria-label="label">
    <button
      v-for="(word, key) in words"
      :key="key"
      type="button"
      class="text-note underline-offset-4 hover:underline"
      :class="chosen === String(key) ? 'font-semibold underline' : 'text-action'"
      :aria-pressed="chosen === String(key)"
      @click="chosen = String(key)"
    >
      {{ word }}
    </button>
    <slot />
  </div>
</template>
