<script setup lang="ts">
import type { IconRelease } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import IconMark from './IconMark.vue';

/** Drawings that a release shows in another way, as they were and as they are: lines of a list. */
const props = defineProps<{ changed: IconRelease['changed'] }>();
const FIRST = 12;
const all = ref(false);
const shown = computed(() => (all.value ? props.changed : props.changed.slice(0, FIRST)));
</script>

<template>
  <li v-for="c in shown" :key="c.name" class="flex items-center gap-3">
    Drawn anew: {{ c.name }}
    <template v-if="c.before !== ''"
      ><IconMark :drawing="{ path: c.before, layers: [] }" :size="28" /><span aria-hidden="true">→</span></template
    ><IconMark :drawing="{ path: c.after, layers: [] }" :size="28" />
  </li>
  <li v-if="changed.length > FIRST && !all">
    <button type="button" class="link" @click="all = true">Show the other {{ changed.length - FIRST }} drawn anew</button>
  </li>
</template>
