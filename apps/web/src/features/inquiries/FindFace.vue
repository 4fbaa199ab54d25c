<script setup lang="ts">
import { routes, USES, USE_WORDS, type Inquiry } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call, sentence } from '../../platform/api';
import FoundryRooms from '../../platform/FoundryRooms.vue';
import { useVoice } from '../../platform/voice';
import { count } from '../../platform/words';
import { useSession } from '../accounts/session';
import { useLibrary } from '../library/library';
import CandidateMargin from './CandidateMargin.vue';
import { base64, useFinding, type Use } from './finding';
import FoundFaces from './FoundFaces.vue';
import PictureBoard from './PictureBoard.vue';
import { SURE } from './words';

/** A picture, the letters in it, and the face they are set in. */
const at = useFinding();
const { reading, letters, answer, prepared, busy, problem, png, pages, page } = at;
const route = useRoute();
const router = useRouter();
const session = useSession();
const library = useLibrary();
const voice = useVoice();
const inquiryId = computed(() => (typeof route.params.inquiryId === 'string' ? route.params.inquiryId : ''));
const inquiry = ref<Inquiry | null>(null);
const chosen = ref(0);
const mode = ref<'none' | 'over' | 'blink' | 'edges' | 'beside'>('over');
const title = ref('');
const customer = ref('');
const note = ref('');
const price = ref<number | ''>('');
const currency = ref('USD');
const use = ref<Use>('logo');
const open = ref(true);
const saving = ref(false);
const over = ref(false);

watch(answer, () => (chosen.value = 0));
const overlay = computed(() => answer.value?.families[chosen.value]?.outline ?? null);
const wordLetters = computed(() => [...reading.value.word.normalize('NFC')].filter((c) => c.trim() !== ''));
/** Letters as they were cut out, each with what it is taken for. */
const cells = computed(() =>
  (letters.value?.letters ?? []).map((l, i) => ({
    ...l,
    i,
    name: wordLetters.value[i] ?? l.guesses[0] ?? '?',
    // Letters of other scripts that are drawn alike say nothing.
    others: l.guesses.slice(1).filter((g) => g <= '~' === (l.guesses[0] ?? '') <= '~'),
    out: reading.value.without.includes(i),
  })),
);
/** The edited picture, for the letters that are cut out of it. */
const shown = ref('');
watch(prepared, async (p) => {
  if (!p) return;
  const canvas = new OffscreenCanvas(p.width, p.height);
  const data = new ImageData(p.width, p.height);
  data.data.set(p.picture);
  canvas.getContext('2d')!.putImageData(data, 0, 0);
  const reader = new FileReader();
  reader.onload = () => (shown.value = String(reader.result));
  reader.readAsDataURL(await canvas.convertToBlob({ type: 'image/png' }));
});
const guessed = computed(() => (letters.value?.letters ?? []).map((l) => l.guesses[0] ?? '').join(''));
function leaveOut(i: number): void {
  reading.value.without = reading.value.without.includes(i) ? reading.value.without.filter((k) => k !== i) : [...reading.value.without, i];
  answer.value = null;
}
const cropOf = (box: { x0: number; y0: number; x1: number; y1: number }): string =>
  `${box.x0 - 1} ${box.y0 - 1} ${box.x1 - box.x0 + 2} ${box.y1 - box.y0 + 2}`;

async function take(files: Iterable<File>): Promise<void> {
  const file = [...files][0];
  if (!file) return;
  inquiry.value = null;
  if (inquiryId.value) await router.replace('/foundry/pictures/new');
  await at.open(file, file.name || 'picture');
  title.value = file.name.replace(/\.[a-z0-9]+$/i, '').slice(0, 120);
  void at
    .loadFaces()
    .then(at.readWord)
    .catch(() => undefined);
}
function input(event: Event): void {
  const el = event.target as HTMLInputElement;
  void take(el.files ?? []);
  el.value = '';
}
function paste(event: ClipboardEvent): void {
  const file = [...(event.clipboardData?.files ?? [])][0];
  if (!file) return;
  event.preventDefault();
  void take([file]);
}
function drop(event: DragEvent): void {
  over.value = false;
  void take(event.dataTransfer?.files ?? []);
}
onMounted(() => window.addEventListener('paste', paste));
onBeforeUnmount(() => window.removeEventListener('paste', paste));

async function load(id: string): Promise<void> {
  if (!id || id === 'new' || inquiry.value?.id === id) return;
  problem.value = '';
  try {
    const found = await call(routes.getInquiry, { params: { inquiryId: id } });
    inquiry.value = found;
    title.value = found.title;
    customer.value = found.customer;
    note.value = found.note;
    price.value = found.price ?? '';
    currency.value = found.currency ?? 'USD';
    use.value = found.use;
    open.value = found.open;
    await at.reopen(found);
  } catch (error) {
    problem.value = sentence(error);
  }
}
watch(inquiryId, load, { immediate: true });

async function keep(): Promise<void> {
  if (!png.value) return;
  saving.value = true;
  problem.value = '';
  try {
    const fields = {
      title: title.value.trim() || reading.value.word || 'A picture',
      customer: customer.value,
      note: note.value,
      price: price.value === '' ? null : Number(price.value),
      currency: price.value === '' ? null : currency.value,
      use: use.value,
      open: open.value,
      reading: { ...reading.value, edits: [...reading.value.edits] },
      sureness: answer.value?.sureness ?? null,
      candidates: (answer.value?.families ?? []).map(({ outline: _, ...f }) => f),
      kept: await at.keptInk(),
    };
    const kept = inquiry.value
      ? await call(routes.changeInquiry, { params: { inquiryId: inquiry.value.id }, body: { ...fields, version: inquiry.value.version } })
      : await call(routes.createInquiry, { body: { ...fields, png: base64(png.value) } });
    inquiry.value = kept;
    voice.say(`“${kept.title}” is kept${kept.open ? '; faces that come in later are compared with it' : ''}.`);
    if (inquiryId.value !== kept.id) await router.replace(`/foundry/pictures/${kept.id}`);
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    saving.value = false;
  }
}
async function forget(): Promise<void> {
  const gone = inquiry.value;
  if (!gone) return;
  try {
    await call(routes.removeInquiry, { params: { inquiryId: gone.id } });
    voice.say(`“${gone.title}” is forgotten.`, 'told', {
      label: 'Undo',
      run: () =>
        void call(routes.returnInquiry, { params: { inquiryId: gone.id } }).then(() => router.push(`/foundry/pictures/${gone.id}`)),
    });
    await router.push('/foundry/pictures');
  } catch (error) {
    problem.value = sentence(error);
  }
}
async function shapes(): Promise<void> {
  const color = prepared.value ? `rgb(${prepared.value.color.map(Math.round).join(',')})` : '#000';
  const svg = await at.work('Tracing …', () => at.trace(color));
  if (!svg) return;
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
  link.download = `${(title.value || 'letters').replace(/[^\p{L}\p{N} _-]/gu, '')}.svg`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
const CURRENCIES = ['USD', 'EUR', 'GBP', 'PLN', 'UAH', 'VND', 'INR'];
</script>

<template>
  <div
    class="flex h-full max-lg:flex-col max-lg:overflow-y-auto"
    @dragover.prevent="over = true"
    @dragleave.self="over = false"
    @drop.prevent="drop"
  >
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-lg:overflow-visible max-sm:px-4">
      <FoundryRooms />
      <div class="flex flex-wrap items-center justify-between gap-3">
        <h1>{{ inquiry?.title ?? 'The face in a picture' }}</h1>
        <div class="flex flex-wrap gap-3">
          <label
            class="focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-action"
            :class="png ? 'press-quiet' : 'press'"
            >{{ png ? 'Another picture' : 'Choose a picture'
            }}<input type="file" accept="image/*,application/pdf,.svg" class="sr-only" @change="input"
          /></label>
          <label class="press-quiet focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-action sm:hidden"
            >Photograph it<input type="file" accept="image/*" capture="environment" class="sr-only" @change="input"
          /></label>
        </div>
      </div>
      <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
      <p v-if="busy" class="mt-3 text-soft" role="status">{{ busy }}</p>
      <div v-if="!png" class="mt-6 border-2 border-dashed border-rule-strong px-6 py-12 text-center text-soft">
        <p>Drop a customer’s picture here, paste it, or choose it: PNG, JPEG, WebP, GIF, SVG, or a page of a PDF.</p>
        <p class="mt-1">It may be small and soft. A line of four letters or more says most.</p>
      </div>
      <template v-else>
        <p v-if="pages > 1" class="mt-3">
          Page {{ page }} of {{ pages }}
          <button type="button" class="link ml-3" :disabled="page <= 1" @click="at.turnTo(page - 1)">Before</button>
          <button type="button" class="link ml-3" :disabled="page >= pages" @click="at.turnTo(page + 1)">Next</button>
        </p>
        <PictureBoard class="mt-4" :at="at" :overlay="overlay" :mode="answer ? mode : 'none'" />
        <p
          v-if="answer && answer.families.length > 0"
          class="mt-2 flex flex-wrap items-center gap-3"
          role="group"
          aria-label="The face over the picture"
        >
          <span class="note">The face over the picture</span>
          <button
            v-for="m in [
              ['over', 'Over it'],
              ['blink', 'Blinking'],
              ['edges', 'Edges'],
              ['beside', 'Side by side'],
              ['none', 'Picture alone'],
            ] as const"
            :key="m[0]"
            type="button"
            class="press-quiet !min-h-8 !px-2.5 !py-0 text-[14px]"
            :class="{ '!border-action !bg-action !text-sheet': mode === m[0] }"
            :aria-pressed="mode === m[0]"
            @click="mode = m[0]"
          >
            {{ m[1] }}
          </button>
        </p>
        <form class="mt-5 flex flex-wrap items-end gap-4" @submit.prevent="at.search()">
          <label class="block min-w-56 flex-1 sm:max-w-md"
            ><span class="note">What is written in it</span
            ><input v-model="reading.word" class="field text-[20px]" maxlength="80" autocomplete="off" spellcheck="false" required
          /></label>
          <button class="press" :disabled="busy !== '' || reading.word.trim() === ''">Find the face</button>
          <button v-if="guessed !== '' && reading.word === ''" type="button" class="link pb-2" @click="reading.word = guessed">
            It may say “{{ guessed }}”
          </button>
        </form>
        <ul v-if="cells.length > 0" class="mt-3 flex flex-wrap gap-2" aria-label="Letters">
          <li v-for="c in cells" :key="c.i">
            <button
              type="button"
              class="flex min-w-12 flex-col items-center border px-1.5 py-1"
              :class="c.out ? 'border-dashed border-rule-strong opacity-50' : 'border-rule-strong bg-sheet'"
              :aria-pressed="!c.out"
              :aria-label="`${c.name}, ${c.out ? 'left out' : 'compared'}`"
              :disabled="reading.word === ''"
              @click="leaveOut(c.i)"
            >
              <svg
                v-if="c.box"
                class="h-9 max-w-20"
                :style="{ width: `${(36 * (c.box.x1 - c.box.x0 + 2)) / (c.box.y1 - c.box.y0 + 2)}px` }"
                :viewBox="cropOf(c.box)"
                aria-hidden="true"
              >
                <image :href="shown" :width="prepared?.width" :height="prepared?.height" />
              </svg>
              <span class="text-[15px] font-semibold">{{ c.name }}</span>
              <span v-if="reading.word === '' && c.others.length > 0" class="note">{{ c.others.join(' ') }}</span>
              <span v-else-if="!c.box" class="note text-ask">not found</span>
            </button>
          </li>
        </ul>
        <p v-if="reading.word !== '' && cells.length > 0" class="note mt-1">
          Press a letter to leave it out: one that is damaged, or drawn differently.
        </p>
        <p class="mt-3 flex flex-wrap gap-x-6 gap-y-1">
          <label class="flex items-center gap-2"
            ><span class="note">Compare</span
            ><select v-model="reading.asWord" class="field py-0" @change="answer = null">
              <option :value="null">
                {{ letters?.asWord ? 'by itself: the whole word' : 'by itself: letter by letter' }}
              </option>
              <option :value="false">letter by letter</option>
              <option :value="true">the whole word, for letters that join</option>
            </select></label
          >
          <label class="flex items-center gap-2"
            ><input v-model="reading.stretched" type="checkbox" class="accent-action" @change="answer = null" />It may be stretched</label
          >
          <label class="flex items-center gap-2"
            ><input v-model="reading.slanted" type="checkbox" class="accent-action" @change="answer = null" />It may be slanted</label
          >
        </p>
        <section v-if="answer" class="mt-6" aria-live="polite">
          <h2>{{ answer.families.length === 0 ? 'No face here has these letters.' : SURE[answer.sureness].head }}</h2>
          <p class="note mt-1">
            {{ answer.asWord ? 'The whole word' : count(answer.letters, 'letter') }} in {{ count(answer.faces, 'face') }},
            {{ (answer.took / 1000).toFixed(1) }} s{{ answer.asWord && at.shaped.value ? '; the nearest shaped as they shape it' : '' }}.
          </p>
          <p v-if="Math.abs(answer.turned) > 0.4 && answer.sureness !== 'none'" class="mt-1">
            <button type="button" class="link" @click="at.edit({ edit: 'turn', degrees: -answer.turned })">
              Straighten it by its letters ({{ Math.abs(answer.turned).toFixed(1) }}°)
            </button>
          </p>
          <FoundFaces v-model="chosen" :at="at" :use="use" />
        </section>
        <p class="mt-4">
          <button type="button" class="link" @click="shapes">Take the letters as vector shapes (SVG)</button>
        </p>
      </template>
    </div>
    <aside
      v-if="png"
      aria-label="Notes"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule px-5 py-6 max-lg:w-auto max-lg:border-t max-lg:border-l-0"
    >
      <p v-if="inquiry?.news" class="mb-4 border-l-4 border-action bg-sheet px-3 py-2">
        {{ inquiry.news.family }} came in later and fits better. <button type="button" class="link" @click="at.search()">Look again</button>
      </p>
      <CandidateMargin v-if="answer && answer.families.length > 0" :at="at" :index="chosen" :use="use" />
      <h2 class="mt-6 first:mt-0">The inquiry</h2>
      <form class="mt-2 flex flex-col gap-3" @submit.prevent="keep">
        <label class="block"
          ><span class="note">Meant for</span
          ><select v-model="use" class="field">
            <option v-for="u in USES" :key="u" :value="u">{{ USE_WORDS[u].label }}</option>
          </select></label
        >
        <template v-if="session.canEdit">
          <label class="block"><span class="note">Name</span><input v-model="title" class="field" maxlength="120" /></label>
          <label class="block"><span class="note">Customer</span><input v-model="customer" class="field" maxlength="200" /></label>
          <span class="flex gap-2">
            <label class="block flex-1"
              ><span class="note">To charge</span><input v-model.number="price" type="number" min="0" step="0.01" class="field"
            /></label>
            <label class="block"
              ><span class="note">Currency</span
              ><select v-model="currency" class="field">
                <option v-for="c in CURRENCIES" :key="c">{{ c }}</option>
              </select></label
            >
          </span>
          <label class="block"
            ><span class="note">Note</span><textarea v-model="note" class="field" rows="3" maxlength="4000"></textarea>
          </label>
          <label class="flex items-start gap-2"
            ><input v-model="open" type="checkbox" class="accent-action" />Compare it with faces that come in later</label
          >
          <p class="flex flex-wrap gap-3">
            <button class="press-quiet" :disabled="saving || busy !== ''">{{ inquiry ? 'Keep the changes' : 'Keep this inquiry' }}</button>
            <button v-if="inquiry" type="button" class="link" @click="forget">Forget it</button>
          </p>
        </template>
      </form>
      <p v-if="library.shelf.stale > 0" class="note mt-4">
        {{ count(library.shelf.stale, 'face') }} cannot be found in pictures yet; they are being read again.
      </p>
    </aside>
    <div v-if="over" class="pointer-events-none fixed inset-0 z-40 flex items-center justify-center bg-paper/90" aria-hidden="true">
      <p class="border-2 border-dashed border-action px-10 py-8 font-serif text-[22px]">Drop a picture</p>
    </div>
  </div>
</template>
