<script setup lang="ts">
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue';

/** One emphasised part of the sentence: a choice among a few words. The empty key means any. */
defineProps<{ choices: Readonly<Record<string, string>>; name: string }>();
const value = defineModel<string>({ required: true });
</script>

<template>
  <Listbox v-model="value" as="div" class="relative">
    <ListboxButton class="part" :class="{ 'part-set': value }" :aria-label="`${name}: ${choices[value] ?? value}`">{{
      choices[value] ?? value
    }}</ListboxButton>
    <ListboxOptions class="choices max-h-80 overflow-y-auto"
      ><ListboxOption v-for="(word, key) in choices" :key="key" v-slot="{ active, selected }" :value="key" as="template"
        ><li class="choice" :class="{ 'bg-action-pale': active, 'font-semibold': selected }">{{ word }}</li></ListboxOption
      ></ListboxOptions
    >
  </Listbox>
</template>
