<script setup lang="ts">
import type { ProofPlan, ProofSheet } from '@orderly-glyph/schema';
import { watchDebounced } from '@vueuse/core';
import { computed, onMounted, ref, watch } from 'vue';
import { useAddress } from '../../platform/address';
import { ApiProblem, call, callBytes, routes, sentence } from '../../platform/api';
import { saveBytes } from '../../platform/files';
import LibraryNav from '../library/LibraryNav.vue';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';
import { useTray } from '../library/tray';
import { useVoice } from '../../platform/voice';
import { count, when } from '../../platform/words';

const library = useLibrary();
const session = useSession();
const tray = useTray();
const voice = useVoice();
const { several } = useAddress();
const faceIds = computed(() =>
  (several('faces').length > 0 ? several('faces') : tray.ids).filter((id) => library.faces.has(id)).slice(0, 20),
);
const PARTS = { alphabet: 'Alphabet', sizes: 'Sizes', languages: 'Languages it writes', paragraph: 'Running text' } as const;
const parts = ref<ProofPlan['parts']>(['alphabet', 'sizes', 'languages', 'paragraph']);
const title = ref('Proof sheet');
const text = ref('');
const ink = ref('#1b1916');
const paper = ref('#ffffff');
const endsOn = ref(new Date(Date.now() + 30 * 86_400_000).toLocaleDateString('sv-SE'));
const picture = ref('');
const page = ref(1);
/** The last page there is, once somebody went beyond it. */
const last = ref(60);
const busy = ref(false);
const problem = ref('');
const sheets = ref<ProofSheet[]>([]);
const plan = computed<ProofPlan>(() => ({
  faceIds: faceIds.value,
  title: title.value.trim() || 'Proof sheet',
  text: text.value.trim(),
  parts: parts.value,
  ink: ink.value,
  paper: paper.value,
}));

const dataUrl = (bytes: ArrayBuffer, type: string): Promise<string> =>
  new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.readAsDataURL(new Blob([bytes], { type }));
  });

let turn = 0;
async function draw(): Promise<void> {
  const mine = ++turn;
  if (faceIds.value.length === 0) {
    picture.value = '';
    return;
  }
  busy.value = true;
  try {
    const bytes = await callBytes(routes.renderProofSheet, { query: { as: 'png', page: page.value }, body: plan.value });
    const url = await dataUrl(bytes, 'image/png');
    if (mine === turn) {
      picture.value = url;
      problem.value = '';
    }
  } catch (error) {
    if (mine !== turn) return;
    // Whoever turns beyond the last page, or asks for less, comes to the last page there is.
    if (error instanceof ApiProblem && error.status === 404 && page.value > 1) last.value = --page.value;
    else problem.value = sentence(error);
  } finally {
    if (mine === turn) busy.value = false;
  }
}
watch(plan, () => (last.value = 60), { deep: true });
watchDebounced([plan, page], () => void draw(), { debounce: 300, immediate: true, deep: true });
onMounted(() => void load());
async function load(): Promise<void> {
  try {
    sheets.value = await call(routes.listProofSheets);
  } catch (error) {
    problem.value = sentence(error);
  }
}
async function save(as: 'pdf' | 'png'): Promise<void> {
  try {
    const bytes = await callBytes(routes.renderProofSheet, { query: { as, page: page.value }, body: plan.value });
    saveBytes(
      `${plan.value.title}${as === 'png' && page.value > 1 ? ` ${page.value}` : ''}.${as}`,
      bytes,
      as === 'pdf' ? 'application/pdf' : 'image/png',
    );
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
async function publish(): Promise<void> {
  try {
    const made = await call(routes.createProofSheet, { body: { plan: plan.value, endsOn: endsOn.value } });
    await load();
    voice.say(`The page is up until ${when(made.endsOn)}. Copy its address from the list.`);
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
async function takeBack(sheet: ProofSheet): Promise<void> {
  try {
    await call(routes.removeProofSheet, { params: { sheetId: sheet.id } });
    await load();
    voice.say(`“${sheet.title}” can no longer be read by anybody.`);
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const addressOfSheet = (sheet: ProofSheet): string => new URL(sheet.path, location.href).href;
const copy = (sheet: ProofSheet): Promise<void> =>
  voice.copy(addressOfSheet(sheet), 'The address is copied. Whoever has it can read the sheet until its end.');
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-4 max-sm:px-4">
      <LibraryNav />
      <h1 class="mt-3">Proof sheet</h1>
      <p v-if="library.state === 'ready' && faceIds.length === 0" class="mt-3">
        Pick up faces in the <RouterLink class="link" to="/library">library</RouterLink>; the sheet shows each of them on a page of its own,
        in your words.
      </p>
      <template v-else>
        <p class="note">
          {{ faceIds.map((id) => `${library.faces.get(id)!.family.name} ${library.faces.get(id)!.face.style}`).join(', ') }}
        </p>
        <p v-if="problem" class="mt-3 text-no">{{ problem }}</p>
        <div class="mt-3 flex items-center gap-3">
          <button type="button" class="press-quiet" :disabled="page === 1" @click="page--">Page before</button>
          <span class="note" role="status">Page {{ page }}{{ busy ? ', being drawn …' : '' }}</span>
          <button type="button" class="press-quiet" :disabled="page >= last" @click="page++">Page after</button>
        </div>
        <img v-if="picture" :src="picture" class="mt-3 w-full max-w-[620px] border border-rule" :alt="`Page ${page} of the proof sheet`" />
      </template>
    </div>
    <aside
      aria-label="What the sheet shows"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-4 max-lg:w-full max-lg:border-t max-lg:border-l-0"
      tabindex="0"
    >
      <template v-if="faceIds.length > 0">
        <label class="note block">Title<input v-model="title" class="field mt-0.5" maxlength="160" /></label>
        <label class="note mt-3 block"
          >In these words<textarea
            v-model="text"
            class="field mt-0.5"
            rows="4"
            maxlength="2000"
            dir="auto"
            placeholder="Your first ready text, if left empty"
          ></textarea>
        </label>
        <fieldset class="mt-3">
          <legend class="note">Parts</legend>
          <label v-for="(word, key) in PARTS" :key="key" class="flex items-center gap-2"
            ><input v-model="parts" type="checkbox" class="accent-action" :value="key" />{{ word }}</label
          >
        </fieldset>
        <div class="mt-3 flex gap-4">
          <label class="note">Ink<input v-model="ink" type="color" class="mt-0.5 block h-9 w-14 border border-rule" /></label>
          <label class="note">Paper<input v-model="paper" type="color" class="mt-0.5 block h-9 w-14 border border-rule" /></label>
          <div v-if="library.shelf.palette.length > 0" class="min-w-0 flex-1">
            <span class="note">From our colors</span>
            <div class="mt-0.5 flex flex-wrap gap-1">
              <button
                v-for="c in library.shelf.palette"
                :key="c.name"
                type="button"
                class="h-6 w-6 border border-rule"
                :style="{ background: c.hex }"
                :aria-label="`Ink ${c.name}`"
                :title="c.name"
                @click="ink = c.hex"
              ></button>
            </div>
          </div>
        </div>
        <div class="mt-4 flex flex-wrap gap-2">
          <button type="button" class="press" @click="save('pdf')">Save as PDF</button>
          <button type="button" class="press-quiet" @click="save('png')">This page as PNG</button>
        </div>
        <form v-if="session.canEdit" class="mt-5 border-t border-rule pt-3" @submit.prevent="publish">
          <h2>A page to send</h2>
          <p class="note">
            Whoever has the address can read it. Live type stands there only where the license lets a website show the face; otherwise
            pictures do.
          </p>
          <label class="note mt-2 block">Until<input v-model="endsOn" type="date" class="field mt-0.5" required /></label>
          <button type="submit" class="press-quiet mt-2">Put it up</button>
        </form>
      </template>
      <template v-if="sheets.length > 0">
        <h2 class="mt-5">Pages that are up</h2>
        <ul class="mt-1">
          <li v-for="s in sheets" :key="s.id" class="border-b border-rule py-1">
            <a class="link" :href="s.path" target="_blank" rel="noopener">{{ s.title }}</a>
            <span class="note block"
              >{{ count(s.plan.faceIds.length, 'face') }}, {{ s.ended ? 'ended on' : 'until' }} {{ when(s.endsOn) }}, by {{ s.by }}</span
            >
            <span class="flex gap-4">
              <button v-if="!s.ended" type="button" class="link text-note" @click="copy(s)">Copy the address</button>
              <button v-if="session.canEdit" type="button" class="link text-note" @click="takeBack(s)">Take it back</button>
            </span>
          </li>
        </ul>
      </template>
    </aside>
  </div>
</template>
