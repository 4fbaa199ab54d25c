<script setup lang="ts">
import type { KnownText } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { count } from '../../platform/words';

/** How a text stands to a known license: recognized, or only near to it, and every passage in which they differ. */
const props = defineProps<{ known: KnownText; recognised: boolean }>();
const MOST = 6;
const all = ref(false);
const percent = computed(() => `${Math.floor(props.known.score * 1000) / 10}%`);
const shown = computed(() => (all.value ? props.known.differences : props.known.differences.slice(0, MOST)));
</script>

<template>
  <section class="border-l-4 px-3 py-2" :class="recognised ? 'border-yes bg-yes-pale' : 'border-ask bg-ask-pale'">
    <p v-if="recognised">
      This is the text of the {{ known.name }}: {{ percent }} of its words are there in order{{
        known.differences.length === 0 ? ', and nothing differs.' : '.'
      }}
    </p>
    <p v-else>
      {{ percent }} of it is the {{ known.name }}, but the rest changes what it says. It does not count as that license: read what differs.
    </p>
    <template v-if="known.differences.length > 0">
      <h3 class="mt-2">{{ count(known.differences.length, 'passage differs', 'passages differ') }}</h3>
      <ul>
        <li v-for="(d, i) in shown" :key="i" class="mt-1 text-note">
          <span v-if="d.expected" class="block"><span class="text-soft">The license: </span>{{ d.expected }}</span>
          <span class="block"
            ><span class="text-soft">This text: </span>{{ d.found || (d.expected ? 'leaves it out' : '')
            }}<span v-if="!d.expected" class="text-soft"> (added)</span></span
          >
        </li>
      </ul>
      <button v-if="!all && known.differences.length > MOST" type="button" class="link mt-1 text-note" @click="all = true">
        Show all {{ known.differences.length }}
      </button>
    </template>
  </section>
</template>
