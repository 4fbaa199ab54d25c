<script setup lang="ts">
import type { KeptText, TextCheck } from '@orderly-glyph/schema';
import { USES, USE_WORDS } from '@orderly-glyph/schema';
import { watchDebounced } from '@vueuse/core';
import { computed, onMounted, ref } from 'vue';
import { useAddress } from '../../platform/address';
import { call, routes, sentence } from '../../platform/api';
import LibraryNav from '../library/LibraryNav.vue';
import LiveText from './LiveText.vue';
import { filesOfDrop } from '../../platform/files';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import { useLiveFace } from './live-type';
import { count } from '../../platform/words';

const library = useLibrary();
const { several } = useAddress();
const text = ref('');
const use = ref<'' | (typeof USES)[number]>('');
const result = ref<TextCheck | null>(null);
const chosen = ref('');
const problem = ref('');
const busy = ref(false);
const faceIds = computed(() => several('faces'));
const MOST = 200_000;
const session = useSession();
const voice = useVoice();
const kept = ref<KeptText[]>([]);
const naming = ref<string | null>(null);
const keptHere = computed(() => kept.value.find((t) => t.text === text.value) ?? null);
async function loadKept(): Promise<void> {
  try {
    kept.value = await call(routes.listTexts);
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(() => void loadKept());
async function keep(): Promise<void> {
  const name = naming.value?.trim();
  if (!name) return;
  try {
    await call(routes.keepText, { body: { name, text: text.value } });
    await loadKept();
    naming.value = null;
    voice.say(`Kept as “${name}”; it can be checked again at any time.`);
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
async function forget(t: KeptText): Promise<void> {
  try {
    await call(routes.dropText, { params: { textId: t.id } });
    await loadKept();
    voice.say(`“${t.name}” is forgotten.`, 'told', {
      label: 'Undo',
      run: () =>
        void call(routes.keepText, { body: { name: t.name, text: t.text } })
          .then(loadKept)
          .catch((error: unknown) => voice.say(sentence(error), 'fault')),
    });
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}

let turn = 0;
async function check(): Promise<void> {
  const mine = ++turn;
  if (text.value.trim() === '') {
    result.value = null;
    return;
  }
  busy.value = true;
  problem.value = '';
  try {
    const found = await call(routes.checkText, { body: { text: text.value, faceIds: faceIds.value, use: use.value || null } });
    if (mine !== turn) return;
    result.value = found;
    if (!found.faces.some((f) => f.faceId === chosen.value)) chosen.value = found.faces[0]?.faceId ?? '';
  } catch (error) {
    if (mine === turn) problem.value = sentence(error);
  } finally {
    if (mine === turn) busy.value = false;
  }
}
watchDebounced([text, use, () => faceIds.value.join()], () => void check(), { debounce: 250 });

const face = computed(() => result.value?.faces.find((f) => f.faceId === chosen.value) ?? null);
/** The text with what the chosen face lacks marked where it stands; a long text is shown in part. */
const marked = computed(() => {
  const missing = new Map(face.value?.missing.map((m) => [m.character, m]) ?? []);
  const out: { text: string; name: string | null }[] = [];
  for (const c of text.value.slice(0, 6000).normalize('NFC')) {
    const m = missing.get(c);
    const last = out[out.length - 1];
    if (!m && last && last.name === null) last.text += c;
    else out.push({ text: c, name: m ? `${m.name} (${m.codePoint})` : null });
  }
  return out;
});
/** The face itself, with as much of it as the text needs. */
const chosenLine = computed(() => library.faces.get(face.value?.faceId ?? '')?.face ?? null);
const live = useLiveFace(
  chosenLine,
  computed(() => text.value.slice(0, 6000)),
);
const setting = computed(() =>
  live.state.value === 'ready' ? { fontFamily: `"${live.family.value}", var(--font-sans)`, fontSynthesis: 'none' } : {},
);
const whole = computed(() => result.value?.faces.filter((f) => f.missing.length === 0) ?? []);

function mend(s: TextCheck['suspicions'][number]): void {
  if (s.suggestion !== null) text.value = text.value.slice(0, s.start) + s.suggestion + text.value.slice(s.end);
}
async function take(file: File | undefined): Promise<void> {
  if (!file) return;
  problem.value = '';
  if (file.size > 4 * MOST) {
    problem.value = 'This file is too long to check in one go. Check it in parts; nothing was changed.';
    return;
  }
  try {
    text.value = new TextDecoder('utf-8', { fatal: true }).decode(await file.arrayBuffer()).slice(0, MOST);
  } catch {
    problem.value = 'This file is not text in UTF-8. Save it as UTF-8 text or CSV and drop it again; nothing was changed.';
  }
}
function drop(event: DragEvent): void {
  if (event.dataTransfer) void filesOfDrop(event.dataTransfer).then((files) => take(files[0]?.file));
}
</script>

<template>
  <div class="flex h-full max-lg:block" @dragover.prevent @drop.prevent="drop">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4">
      <LibraryNav />
      <h1 class="mt-3">Can they write this?</h1>
      <p v-if="kept.length > 0" class="mt-2 flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <span class="note">Kept texts</span>
        <button
          v-for="t in kept"
          :key="t.id"
          type="button"
          class="text-note underline-offset-4 hover:underline"
          :class="keptHere?.id === t.id ? 'font-semibold underline' : 'text-action'"
          :aria-pressed="keptHere?.id === t.id"
          @click="text = t.text"
        >
          {{ t.name }}
        </button>
        <button v-if="keptHere && session.canEdit" type="button" class="note hover:text-no" @click="forget(keptHere)">
          forget “{{ keptHere.name }}”
        </button>
      </p>
      <label class="mt-3 block"
        ><span class="note">Paste a menu, a price list, the rows of a product table, or drop a text or CSV file here.</span>
        <textarea
          v-model="text"
          class="field font-serif text-[17px]"
          rows="6"
          :maxlength="MOST"
          dir="auto"
          aria-label="Text to check"
        ></textarea>
      </label>
      <form v-if="session.canEdit && text.trim() && !keptHere" class="mt-2 flex items-center gap-2" @submit.prevent="keep">
        <button v-if="naming === null" type="button" class="link text-note" @click="naming = ''">Keep this text</button>
        <template v-else>
          <input v-model="naming" class="field min-h-0 w-56 py-1" maxlength="120" aria-label="Name of the text" placeholder="Name it" />
          <button type="submit" class="press-quiet min-h-0 py-1" :disabled="!naming.trim()">Keep</button>
        </template>
      </form>
      <div class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1">
        <button
          v-for="t in library.readyTexts"
          :key="t.label"
          type="button"
          class="text-note text-action hover:underline"
          @click="text = t.text"
        >
          {{ t.label }}
        </button>
        <label class="link text-note"
          >Choose a file<input
            type="file"
            accept=".txt,.csv,text/*"
            class="sr-only"
            aria-label="Choose a text file"
            @change="take(($event.target as HTMLInputElement).files?.[0])"
        /></label>
      </div>
      <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
      <template v-if="result">
        <section v-if="result.suspicions.length > 0" class="mt-5" aria-labelledby="odd">
          <h2 id="odd">Looks right and is not</h2>
          <ul class="mt-1 border-t border-rule">
            <li
              v-for="s in result.suspicions.slice(0, 20)"
              :key="s.start"
              class="flex items-baseline justify-between gap-4 border-b border-rule py-1.5"
            >
              <span
                ><span class="font-serif">“{{ s.text }}”</span> <span class="note">{{ s.message }}</span></span
              >
              <button v-if="s.suggestion !== null" type="button" class="press-quiet shrink-0" @click="mend(s)">
                {{ s.suggestion === '' ? 'Take it out' : `Write “${s.suggestion}”` }}
              </button>
            </li>
          </ul>
          <p v-if="result.suspicions.length > 20" class="note mt-1">And {{ result.suspicions.length - 20 }} more.</p>
        </section>
        <section v-if="face" class="mt-5" aria-labelledby="marked">
          <h2 id="marked">
            {{ face.family }} {{ face.style }}:
            {{ face.missing.length === 0 ? 'all of it' : `${count(face.missing.length, 'character')} missing` }}
          </h2>
          <p class="mt-2 text-[22px] leading-9 break-words whitespace-pre-wrap" dir="auto" :style="setting">
            <template v-for="(part, i) in marked" :key="i"
              ><mark v-if="part.name" class="bg-no-pale font-sans text-no" :title="part.name">{{ part.text }}</mark
              ><template v-else>{{ part.text }}</template></template
            >
          </p>
          <p v-if="live.state.value === 'failed'" class="note text-no">
            {{ live.problem.value }} The text stands here in the type of the page.
          </p>
          <p v-if="text.length > 6000" class="note">Only the beginning is shown; all of it was checked.</p>
          <ul v-if="face.missing.length > 0" class="mt-3 columns-2 gap-8 max-sm:columns-1">
            <li v-for="m in face.missing.slice(0, 80)" :key="m.codePoint" class="note break-inside-avoid">
              <span class="text-base text-no">{{ m.character }}</span> {{ m.name }}, {{ count(m.count, 'time') }}
            </li>
          </ul>
        </section>
      </template>
    </div>
    <aside
      aria-label="Which faces"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-6 max-lg:w-full max-lg:border-t max-lg:border-l-0"
      tabindex="0"
    >
      <h2>Which faces</h2>
      <label class="mt-2 block"
        ><span class="note">Count as cleared only what we may use for</span>
        <select v-model="use" class="field">
          <option value="">anything</option>
          <option v-for="u in USES" :key="u" :value="u">{{ USE_WORDS[u].label }}</option>
        </select>
      </label>
      <p v-if="!result" class="mt-4 text-soft">{{ busy ? 'Checking …' : 'The answer stands here once there is a text.' }}</p>
      <template v-else>
        <p class="mt-4">
          {{ whole.length === 0 ? 'No face sets all of it.' : `${count(whole.length, 'face sets', 'faces set')} all of it.` }}
        </p>
        <p v-if="whole.filter((f) => f.cleared).length === 0 && result.together.length > 1" class="mt-2">
          Together these do: {{ result.together.map((id) => library.faces.get(id)?.family.name).join(' and ') }}.
        </p>
        <p v-if="result.nobody.length > 0" class="mt-2 text-no">No cleared face has {{ result.nobody.slice(0, 12).join(' ') }}.</p>
        <ul class="mt-4 border-t border-rule">
          <li v-for="f in result.faces" :key="f.faceId" class="border-b border-rule">
            <button
              type="button"
              class="w-full py-2 text-left -outline-offset-2"
              :aria-pressed="f.faceId === chosen"
              :class="{ 'bg-action-pale': f.faceId === chosen }"
              @click="chosen = f.faceId"
            >
              <span class="block truncate text-[22px] leading-8"
                ><LiveText v-if="library.faces.get(f.faceId)" :face="library.faces.get(f.faceId)!.face" :text="f.family"
              /></span>
              <span class="note block"
                >{{
                  f.missing.length === 0
                    ? 'all of it'
                    : `lacks ${f.missing
                        .slice(0, 10)
                        .map((m) => m.character)
                        .join(' ')}${f.missing.length > 10 ? ` and ${f.missing.length - 10} more` : ''}`
                }}{{ use && !f.cleared ? ', not cleared' : '' }}</span
              >
            </button>
          </li>
        </ul>
      </template>
    </aside>
  </div>
</template>
