<script setup lang="ts">
import type { DeskItem } from '@orderly-glyph/schema';
import { onMounted, ref } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import { useSession } from '../accounts/session';

const session = useSession();
const items = ref<DeskItem[] | null>(null);
const problem = ref('');

async function load(): Promise<void> {
  problem.value = '';
  try {
    items.value = await call(routes.getDesk);
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);
const tone: Record<DeskItem['kind'], string> = {
  'no-right': 'border-no',
  ending: 'border-no',
  limit: 'border-no',
  'not-sound': 'border-no',
  refused: 'border-no',
  'unknown-license': 'border-ask',
  'suggested-license': 'border-ask',
  unconfirmed: 'border-ask',
  'bundle-waiting': 'border-action',
  'intake-running': 'border-action',
  inquiry: 'border-action',
  ready: 'border-yes',
  begin: 'border-action',
};
</script>

<template>
  <div class="mx-auto max-w-4xl px-6 py-8 max-sm:px-4">
    <h1>What needs you</h1>
    <p v-if="problem" class="mt-4">{{ problem }} <button type="button" class="link" @click="load">Try again</button></p>
    <p v-else-if="items === null" class="mt-4 text-soft">Looking …</p>
    <div v-else-if="items.length === 0" class="mt-6 border-t border-rule pt-5">
      <p class="font-serif text-[19px]">
        {{
          session.canEdit
            ? 'Nothing. Every face has its license, every file was sorted.'
            : 'Nothing. You may look at everything here; who may change it is told what there is to do.'
        }}
      </p>
      <RouterLink to="/library" class="link mt-2 inline-block">Go to the library</RouterLink>
    </div>
    <ol v-else class="mt-6 border-t border-rule">
      <li
        v-for="(item, i) in items"
        :key="item.message"
        class="flex items-center gap-6 border-b border-rule py-4 max-sm:flex-col max-sm:items-start max-sm:gap-2"
      >
        <div class="min-w-0 flex-1 border-l-4 pl-4" :class="tone[item.kind]">
          <p class="font-serif text-[19px] leading-7">{{ item.message }}</p>
          <p class="text-soft">{{ item.detail }}</p>
        </div>
        <RouterLink :to="item.to" :class="i === 0 ? 'press' : 'press-quiet'" class="shrink-0">{{ item.action }}</RouterLink>
      </li>
    </ol>
  </div>
</template>
