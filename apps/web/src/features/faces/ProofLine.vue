<script setup lang="ts">
import type { ReadyText } from '@orderly-glyph/schema';

withDefaults(defineProps<{ texts: ReadyText[]; says?: string }>(), { says: 'Every line below is set in these words' });
const text = defineModel<string>('text', { required: true });
const size = defineModel<number>('size', { required: true });
</script>

<template>
  <div>
    <div class="flex flex-wrap items-end gap-x-6">
      <input
        v-model="text"
        type="text"
        maxlength="400"
        dir="auto"
        class="min-w-60 flex-1 border-b-2 border-ink bg-transparent py-0.5 font-serif text-[20px] leading-7"
        aria-label="Proof line"
        :title="says"
        placeholder="Type your own words; every line is set in them"
      />
      <label class="flex shrink-0 items-center gap-2">
        <span class="note">Size</span>
        <input v-model.number="size" type="range" min="10" max="300" class="w-28 accent-action" :aria-valuetext="`${size} px`" />
        <span class="note w-11 text-right">{{ size }} px</span>
      </label>
    </div>
    <div class="mt-1 flex flex-wrap gap-x-4 max-sm:flex-nowrap max-sm:overflow-x-auto" role="group" aria-label="Ready texts">
      <button
        v-for="ready in texts"
        :key="ready.label"
        type="button"
        class="min-h-6 shrink-0 text-note leading-6 underline-offset-4 hover:underline"
        :class="text === ready.text ? 'font-semibold text-ink underline' : 'text-action'"
        :aria-pressed="text === ready.text"
        @click="text = ready.text"
      >
        {{ ready.label }}
      </button>
      <RouterLink v-if="texts.length === 0" class="link min-h-6 text-note leading-6" to="/library/words"
        >Choose the languages you sell in</RouterLink
      >
    </div>
  </div>
</template>
