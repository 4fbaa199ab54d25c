<script setup lang="ts">
import { routes, type InquiryBrief } from '@orderly-glyph/schema';
import { computed, onMounted, ref } from 'vue';
import { addressOf, call, sentence } from '../../platform/api';
import FoundryRooms from '../../platform/FoundryRooms.vue';
import { when } from '../../platform/words';
import { useLibrary } from '../library/library';

/** Pictures that customers sent, and the faces that were found for them. */
const library = useLibrary();
const inquiries = ref<InquiryBrief[]>([]);
const state = ref<'loading' | 'ready' | 'failed'>('loading');
const problem = ref('');
const find = ref('');
onMounted(async () => {
  try {
    inquiries.value = await call(routes.listInquiries, {});
    state.value = 'ready';
  } catch (error) {
    problem.value = sentence(error);
    state.value = 'failed';
  }
});
const shown = computed(() => {
  const wanted = find.value.trim().toLowerCase();
  return inquiries.value.filter((i) => wanted === '' || `${i.title} ${i.customer} ${i.word}`.toLowerCase().includes(wanted));
});
const SAY = { surely: 'surely', probably: 'probably', nearest: 'nearest:', none: 'none of ours; nearest:' } as const;
function saidOf(i: InquiryBrief): string {
  const entry = i.faceId ? library.faces.get(i.faceId) : null;
  return i.sureness && entry ? `${SAY[i.sureness]} ${entry.family.name} ${entry.face.style}` : 'not looked for yet';
}
</script>

<template>
  <div class="h-full overflow-y-auto px-6 py-6 max-sm:px-4">
    <FoundryRooms />
    <div class="flex flex-wrap items-center justify-between gap-3">
      <h1>Faces in pictures</h1>
      <RouterLink to="/foundry/pictures/new" class="press">Find a face</RouterLink>
    </div>
    <p class="mt-1 max-w-2xl text-soft">
      Which of your faces a customer’s picture is set in, whether you may use it, and what comes nearest. Open inquiries are compared with
      every face that comes in later.
    </p>
    <p v-if="problem" role="alert" class="mt-3 max-w-2xl border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
    <p v-if="state === 'loading'" class="mt-6 text-soft">Loading …</p>
    <p v-else-if="state === 'ready' && inquiries.length === 0" class="mt-6 max-w-2xl text-soft">
      There is none yet. A small, soft picture of one line is enough.
    </p>
    <template v-else-if="state === 'ready'">
      <label v-if="inquiries.length > 6" class="mt-4 block w-64"
        ><span class="note">Find an inquiry</span><input v-model="find" class="field" maxlength="80"
      /></label>
      <ul class="mt-5 border-t border-rule">
        <li v-for="i in shown" :key="i.id" class="border-b border-rule py-3">
          <RouterLink :to="`/foundry/pictures/${i.id}`" class="flex flex-wrap items-center gap-x-6 gap-y-2">
            <img
              :src="addressOf(routes.inquiryPicture, { params: { inquiryId: i.id } })"
              alt=""
              class="h-12 w-40 object-contain object-left"
              loading="lazy"
            />
            <span class="min-w-0 flex-1 basis-60">
              <span class="block font-serif text-[20px] leading-7">{{ i.title }}</span>
              <span class="note block">{{ i.customer }}{{ i.customer && i.word ? ', ' : '' }}{{ i.word ? `“${i.word}”` : '' }}</span>
            </span>
            <span class="basis-72"
              >{{ saidOf(i) }}<span v-if="i.news" class="block text-ask">{{ i.news.family }} came in later and fits better</span></span
            >
            <span class="note">{{ i.open ? 'open' : 'done' }}, {{ when(i.changedAt) }}</span>
          </RouterLink>
        </li>
      </ul>
    </template>
  </div>
</template>
