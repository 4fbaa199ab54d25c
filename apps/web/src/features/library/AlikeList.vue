<script setup lang="ts">
import { sayLikeness, USES, USE_WORDS } from '@orderly-glyph/schema';
import { ref, watch } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import { useLibrary } from './library';
import LiveText from '../faces/LiveText.vue';

/** Faces of other families that look most like one. */
const props = defineProps<{ faceId: string; text: string }>();
defineEmits<{ choose: [faceId: string] }>();
const library = useLibrary();
const limit = ref('');
const found = ref<{ faceId: string; score: number }[] | null>(null);
const problem = ref('');

watch(
  [() => props.faceId, limit],
  async ([id, only]) => {
    found.value = null;
    try {
      const answer = await call(routes.getAlike, {
        params: { faceId: id },
        query: only === 'free' ? { free: 'yes' } : only ? { use: only as (typeof USES)[number] } : {},
      });
      if (props.faceId === id && limit.value === only) found.value = answer;
      problem.value = '';
    } catch (error) {
      problem.value = sentence(error);
    }
  },
  { immediate: true },
);
</script>

<template>
  <div>
    <label class="note block"
      >Among
      <select v-model="limit" class="field mt-0.5 min-h-0 py-1">
        <option value="">all families</option>
        <option value="free">those under an open license</option>
        <option v-for="u in USES" :key="u" :value="u">those cleared for {{ USE_WORDS[u].label.toLowerCase() }}</option>
      </select></label
    >
    <p v-if="problem" class="mt-1 text-no">{{ problem }}</p>
    <p v-else-if="found === null" class="note mt-1">Comparing outlines …</p>
    <p v-else-if="found.length === 0" class="note mt-1">No other family can be compared with it.</p>
    <ol v-else class="mt-1">
      <li v-for="a in found.slice(0, 6)" :key="a.faceId" class="border-b border-rule">
        <button
          v-if="library.faces.get(a.faceId)"
          type="button"
          class="w-full overflow-hidden py-1 text-left -outline-offset-2 hover:bg-action-pale"
          @click="$emit('choose', a.faceId)"
        >
          <span class="block overflow-hidden text-[22px] leading-8 whitespace-nowrap"
            ><LiveText :face="library.faces.get(a.faceId)!.face" :text="text"
          /></span>
          <span class="note block truncate"
            >{{ library.faces.get(a.faceId)!.family.name }} {{ library.faces.get(a.faceId)!.face.style }}, {{ sayLikeness(a.score) }}</span
          >
        </button>
      </li>
    </ol>
  </div>
</template>
