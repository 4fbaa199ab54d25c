<script setup lang="ts">
import type { Answer, routes as Routes } from '@orderly-glyph/schema';
import { onMounted, ref } from 'vue';
import { addressOf, call, callBytes, routes, sentence } from '../../platform/api';
import { when } from '../../platform/words';

/** What somebody without an account sees of a proof sheet. */
const props = defineProps<{ secret: string }>();
const sheet = ref<Answer<(typeof Routes)['readProofSheet']> | null>(null);
const families = ref<(string | null)[]>([]);
const problem = ref('');

onMounted(async () => {
  try {
    const found = await call(routes.readProofSheet, { params: { secret: props.secret } });
    sheet.value = found;
    document.title = `${found.title} · ${found.business}`;
    families.value = found.faces.map(() => null);
    await Promise.all(
      found.faces.map(async (face, number) => {
        if (!face.web) return;
        const bytes = await callBytes(routes.readProofSheetFace, { params: { secret: props.secret, number } });
        const font = new FontFace(`shown-${number}`, bytes, { weight: '1 1000' });
        document.fonts.add(await font.load());
        families.value[number] = `shown-${number}`;
      }),
    );
  } catch (error) {
    // A face that does not load leaves its picture.
    if (!sheet.value) problem.value = sentence(error);
  }
});
</script>

<template>
  <div class="mx-auto max-w-4xl px-6 py-8 max-sm:px-4">
    <div v-if="problem">
      <h1>This sheet cannot be read</h1>
      <p class="mt-3">{{ problem }}</p>
    </div>
    <p v-else-if="!sheet" class="text-soft">Opening the sheet …</p>
    <template v-else>
      <p class="note">{{ sheet.business }}, until {{ when(sheet.endsOn) }}</p>
      <h1>{{ sheet.title }}</h1>
      <section v-for="(f, i) in sheet.faces" :key="f.name" class="mt-6">
        <div v-if="families[i]" class="px-4 py-3" :style="{ background: sheet.paper, color: sheet.ink, fontFamily: `'${families[i]}'` }">
          <p class="overflow-hidden text-[40px] leading-[56px] break-words" dir="auto">{{ sheet.text || f.name }}</p>
          <p class="text-[18px] leading-7" dir="auto">{{ sheet.text || f.name }}</p>
        </div>
        <h2 class="mt-1">{{ f.name }}</h2>
        <p class="note">{{ f.license }}</p>
      </section>
      <h2 class="mt-8">The sheet</h2>
      <img
        v-for="n in sheet.pages"
        :key="n"
        class="mt-3 w-full border border-rule"
        loading="lazy"
        :src="addressOf(routes.readProofSheetPage, { params: { secret, page: n } })"
        :alt="`Page ${n} of ${sheet.pages}`"
      />
    </template>
  </div>
</template>
