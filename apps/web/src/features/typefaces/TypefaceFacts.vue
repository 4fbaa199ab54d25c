<script setup lang="ts">
import { routes, type TypefaceFacts } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { call } from '../../platform/api';
import { useSession } from '../accounts/session';
import type { FaceAtHand } from './typeface';

/** What is true of the whole typeface. */
const props = defineProps<{ at: FaceAtHand }>();
const session = useSession();
const face = computed(() => props.at.face.value!);
const changing = ref(false);
const facts = ref<TypefaceFacts>({ ...face.value.facts });
const EMBEDDING = { 0: 'anybody may', 8: 'in documents that are edited', 4: 'to print and look', 2: 'nowhere' } as const;
async function keep(): Promise<void> {
  const next = await props.at.carryOut(() =>
    call(routes.changeTypeface, {
      params: { typefaceId: face.value.id },
      body: { facts: facts.value, wish: face.value.wish, version: face.value.version },
    }),
  );
  if (!next) return;
  props.at.takeOver(next);
  changing.value = false;
}
</script>

<template>
  <template v-if="!changing">
    <dl class="mt-2 grid grid-cols-[86px_1fr] gap-y-1">
      <dt class="note">Style</dt>
      <dd>{{ face.facts.style }}</dd>
      <dt class="note">Maker</dt>
      <dd>{{ face.facts.maker || 'not said' }}</dd>
      <dt class="note">License</dt>
      <dd class="break-words">{{ face.facts.license || 'not said' }}</dd>
      <dt class="note">Embedding</dt>
      <dd>{{ EMBEDDING[face.facts.embedding] }}</dd>
      <dt class="note">Heights</dt>
      <dd>x {{ Math.round(face.heights.xHeight) }}, capitals {{ Math.round(face.heights.capHeight) }}</dd>
    </dl>
    <button v-if="session.canEdit" type="button" class="link mt-2" @click="((facts = { ...face.facts }), (changing = true))">
      Change these
    </button>
  </template>
  <form v-else class="mt-2 flex flex-col gap-3" @submit.prevent="keep">
    <label class="block"
      ><span class="note">Name of the family</span><input v-model="facts.family" class="field" maxlength="60" required
    /></label>
    <label class="block"><span class="note">Style</span><input v-model="facts.style" class="field" maxlength="40" required /></label>
    <label class="block"><span class="note">Maker</span><input v-model="facts.maker" class="field" maxlength="200" /></label>
    <label class="block"
      ><span class="note">License, in words</span><textarea v-model="facts.license" class="field" rows="2" maxlength="1000"></textarea>
    </label>
    <label class="block"
      ><span class="note">Its address</span
      ><input v-model="facts.licenseUrl" class="field" type="url" maxlength="500" placeholder="https://"
    /></label>
    <label class="block"
      ><span class="note">Embedding</span
      ><select v-model="facts.embedding" class="field">
        <option v-for="(name, value) in EMBEDDING" :key="value" :value="Number(value)">{{ name }}</option>
      </select></label
    >
    <p class="flex gap-3">
      <button class="press">Keep it</button><button type="button" class="press-quiet" @click="changing = false">Leave it</button>
    </p>
  </form>
</template>
