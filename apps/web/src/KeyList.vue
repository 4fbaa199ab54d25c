<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue';

defineProps<{ open: boolean }>();
defineEmits<{ close: [] }>();
const keys = [
  ['/', 'Go to the search field'],
  ['↑ ↓', 'Move from line to line in the library'],
  ['P', 'Pick the selected face up, or put it down'],
  ['M', 'From the line to the notes in its margin, and back'],
  ['F', 'Make the selected family a favorite, or no longer'],
  ['← →', 'Move through the styles of the selected family'],
  ['B, held', 'On the shop’s website: the headings as they were before'],
  ['?', 'This list'],
  ['Esc', 'Close what is open'],
];
</script>

<template>
  <Dialog :open="open" class="relative z-50" @close="$emit('close')">
    <div class="fixed inset-0 bg-ink/30" aria-hidden="true"></div>
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="w-full max-w-lg border border-rule-strong bg-paper p-6 text-ink">
        <DialogTitle as="h2">Keys</DialogTitle>
        <dl class="mt-3 grid grid-cols-[6rem_1fr] gap-y-2">
          <template v-for="[key, what] in keys" :key="key">
            <dt class="code pt-0.5">{{ key }}</dt>
            <dd>{{ what }}</dd>
          </template>
        </dl>
        <button type="button" class="press-quiet mt-5" @click="$emit('close')">Close</button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
