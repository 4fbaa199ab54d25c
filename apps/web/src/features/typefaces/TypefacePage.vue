<script setup lang="ts">
import { routes, type Contour, type TypefaceLetter } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import { call, sentence } from '../../platform/api';
import FoundryRooms from '../../platform/FoundryRooms.vue';
import { useVoice } from '../../platform/voice';
import { count } from '../../platform/words';
import { useSession } from '../accounts/session';
import GlyphGrid from './GlyphGrid.vue';
import LetterEditor from './LetterEditor.vue';
import LetterMargin from './LetterMargin.vue';
import ScreenPen from './ScreenPen.vue';
import SheetsView from './SheetsView.vue';
import SpacingView from './SpacingView.vue';
import { sayGlyph, useTypeface } from './typeface';
import TypefaceFactsPart from './TypefaceFacts.vue';
import TypefaceReleases from './TypefaceReleases.vue';

/** One typeface in the making: its letters, its sheets, its spacing, and its releases. */
const props = defineProps<{ typefaceId: string }>();
const at = useTypeface(() => props.typefaceId);
const { face, state, problem, busy, chosen, selection } = at;
const session = useSession();
const voice = useVoice();
const router = useRouter();
const { param, put } = useAddress();
const VIEWS = [
  { id: '', name: 'Letters' },
  { id: 'sheets', name: 'Sheets' },
  { id: 'spacing', name: 'Spacing' },
  { id: 'release', name: 'Releases' },
] as const;
const view = computed(() => param('view') ?? '');
function show(id: string): void {
  chosen.value = [];
  editing.value = null;
  put({ view: id || undefined });
}
const which = computed(() => param('show') ?? '');
const shown = computed(() => {
  const all = face.value?.glyphs ?? [];
  if (which.value === 'drawn') return all.filter((g) => !g.of);
  if (which.value === 'composed') return all.filter((g) => g.of);
  if (which.value === 'look') return all.filter((g) => g.findings.length > 0);
  return all;
});
const wrong = computed(() => (face.value?.glyphs ?? []).filter((g) => g.findings.length > 0).length);
const editing = ref<TypefaceLetter | null>(null);
async function keepEdit(contours: Contour[]): Promise<void> {
  const { id } = editing.value!;
  if (await at.act({ act: 'step', ids: [id], step: { step: 'edit', contours } }, 'Its points are kept.')) editing.value = null;
}
const drawing = ref<{ character: string; variant: number } | null>(null);
async function keepBox(width: number, height: number, gray: string): Promise<void> {
  const box = drawing.value!;
  if (!(await at.addBox(box.character, box.variant, width, height, gray))) return;
  // On to the next box that is open.
  drawing.value = face.value!.open[0] ?? null;
}
async function pictures(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const files = [...(input.files ?? [])];
  input.value = '';
  if (files.length === 0) return;
  const vectors = files.filter((f) => /\.svg$/i.test(f.name));
  const others = files.filter((f) => !/\.svg$/i.test(f.name));
  if (others.length > 0) {
    put({ view: 'sheets' });
    await at.readPictures(others);
  }
  if (vectors.length > 0) told.value = await at.addVectors(vectors);
}
const told = ref<string[]>([]);
const over = ref(false);
async function dropped(event: DragEvent): Promise<void> {
  over.value = false;
  if (!session.canEdit || !event.dataTransfer) return;
  await pictures({ target: { files: event.dataTransfer.files, value: '' } } as unknown as Event);
}
function remove(): void {
  const ids = selection.value.flatMap((g) => g.letterId ?? []);
  if (ids.length > 0) void at.act({ act: 'remove', ids }, `${count(ids.length, 'drawing')} out.`, { act: 'restore', ids });
}
async function forget(): Promise<void> {
  try {
    await call(routes.removeTypeface, { params: { typefaceId: props.typefaceId } });
    const { typefaceId } = props;
    const run = async (): Promise<void> => {
      try {
        await call(routes.returnTypeface, { params: { typefaceId } });
        await router.push(`/foundry/typefaces/${typefaceId}`);
      } catch (error) {
        voice.say(sentence(error), 'fault');
      }
    };
    voice.say(`“${face.value!.facts.family}” is forgotten.`, 'told', { label: 'Undo', run: () => void run() });
    await router.push('/foundry/typefaces');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
</script>

<template>
  <div class="flex h-full max-lg:block" @dragover.prevent="over = session.canEdit" @dragleave.self="over = false" @drop.prevent="dropped">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4">
      <FoundryRooms />
      <p v-if="state === 'loading'" class="text-soft">Loading …</p>
      <p v-else-if="!face" role="alert">{{ problem }} <RouterLink class="link" to="/foundry/typefaces">All drawn typefaces</RouterLink></p>
      <template v-else>
        <div class="flex flex-wrap items-center justify-between gap-3">
          <h1>{{ face.facts.family }}</h1>
          <div v-if="session.canEdit" class="flex flex-wrap gap-3">
            <label
              class="press focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-action"
              :aria-disabled="busy !== ''"
              >{{ busy || 'Bring in filled pages'
              }}<input
                type="file"
                multiple
                accept="image/png,image/jpeg,image/webp,image/tiff,application/pdf,.tif,.tiff,.svg,image/svg+xml"
                class="sr-only"
                :disabled="busy !== ''"
                @change="pictures"
            /></label>
            <label class="press-quiet focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-action md:hidden"
              >Photograph a page<input
                type="file"
                accept="image/*"
                capture="environment"
                class="sr-only"
                :disabled="busy !== ''"
                @change="pictures"
            /></label>
            <button
              v-if="face.open.length > 0"
              type="button"
              class="press-quiet"
              @click="((editing = null), (drawing = face.open[0]!), put({ view: undefined }))"
            >
              Draw on screen
            </button>
          </div>
        </div>
        <p class="note mt-1">
          {{ count(face.glyphs.length, 'glyph') }},
          {{ face.releases[0] ? `release ${face.releases[0].number} of ${face.releases[0].day}` : 'not released yet' }}.
          <template v-if="face.open.length > 0">{{ count(face.open.length, 'box', 'boxes') }} still to be drawn.</template>
        </p>
        <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
        <ul v-if="told.length > 0" class="mt-3 border-l-4 border-ask bg-ask-pale px-3 py-2">
          <li v-for="t in told" :key="t">{{ t }}</li>
          <li><button type="button" class="link" @click="told = []">Seen</button></li>
        </ul>
        <nav aria-label="The typeface" class="mt-4 flex gap-5 border-b border-rule">
          <button
            v-for="v in VIEWS"
            :key="v.id"
            type="button"
            class="-mb-px min-h-9 border-b-2"
            :class="view === v.id ? 'border-no font-semibold' : 'border-transparent text-soft'"
            :aria-current="view === v.id ? 'page' : undefined"
            @click="show(v.id)"
          >
            {{ v.name }}
          </button>
        </nav>
        <template v-if="view === ''">
          <section v-if="drawing" class="mt-4 max-w-md">
            <div class="flex items-baseline justify-between gap-4">
              <h2>{{ sayGlyph(drawing) }}</h2>
              <label class="flex items-baseline gap-2"
                ><span class="note">Another box</span
                ><select
                  class="field"
                  :value="`${drawing.character}/${drawing.variant}`"
                  @change="
                    drawing =
                      face!.open.find((o) => `${o.character}/${o.variant}` === ($event.target as HTMLSelectElement).value) ?? drawing
                  "
                >
                  <option v-for="o in face.open" :key="`${o.character}/${o.variant}`" :value="`${o.character}/${o.variant}`">
                    {{ sayGlyph(o) }}
                  </option>
                </select></label
              >
            </div>
            <ScreenPen
              class="mt-2"
              :character="drawing.character"
              :variant="drawing.variant"
              :busy="busy !== ''"
              @keep="keepBox"
              @leave="drawing = null"
            />
          </section>
          <LetterEditor
            v-else-if="editing"
            :key="editing.id"
            class="mt-4"
            :outline="editing.outline"
            :ink="editing.ink"
            @keep="keepEdit"
            @leave="editing = null"
          />
          <template v-else>
            <label v-if="face.glyphs.length > 0" class="mt-3 block w-56"
              ><span class="note">Show</span
              ><select class="field" :value="which" @change="put({ show: ($event.target as HTMLSelectElement).value || undefined })">
                <option value="">all glyphs</option>
                <option value="drawn">what was drawn</option>
                <option value="composed">what is composed</option>
                <option value="look">what looks wrong ({{ wrong }})</option>
              </select></label
            >
            <GlyphGrid v-if="shown.length > 0" v-model="chosen" class="mt-3" :glyphs="shown" @remove="remove" />
            <p v-else-if="face.glyphs.length > 0" class="mt-4 text-soft">There is none.</p>
            <div v-else class="mt-4 border-2 border-dashed border-rule-strong px-6 py-10 text-center text-soft">
              <p>
                There is no letter yet. <button type="button" class="link" @click="show('sheets')">Lay out a sheet</button>, fill it and
                drop the pictures here;
              </p>
              <p class="mt-1">or drop SVG files that are called as their letters are: a.svg, upper-b.svg, U+00E6.svg.</p>
            </div>
            <p v-if="face.missing.length > 0 && face.glyphs.length > 0" class="mt-4 text-ask">
              Nothing makes these yet: <span class="break-words">{{ face.missing.slice(0, 120).join(' ') }}</span>
            </p>
          </template>
        </template>
        <SheetsView v-else-if="view === 'sheets'" :at="at" />
        <SpacingView v-else-if="view === 'spacing'" :at="at" />
        <TypefaceReleases v-else :at="at" />
      </template>
    </div>
    <aside
      v-if="face"
      aria-label="Notes"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule px-5 py-6 max-lg:w-auto max-lg:border-t max-lg:border-l-0"
    >
      <LetterMargin v-if="selection.length > 0 && !editing && !drawing" :at="at" :glyphs="selection" @edit="(l) => (editing = l)" />
      <template v-else>
        <template v-if="face.glyphs.length > 0">
          <h2>What it writes</h2>
          <p v-if="face.languages.full.length > 0" class="mt-1">
            In full: {{ count(face.languages.full.length, 'language') }} of {{ face.wish.languages.length }}.
          </p>
          <p v-for="l in face.languages.lacking" :key="l.tag" class="mt-1 text-ask">
            {{ l.name }}: {{ l.missing.length > 0 ? `${l.missing.join(' ')} missing` : 'not yet' }}
          </p>
          <p v-if="wrong > 0" class="mt-2">
            {{ count(wrong, 'letter') }} {{ wrong === 1 ? 'looks' : 'look' }} wrong.
            <button type="button" class="link" @click="put({ view: undefined, show: 'look' })">
              See {{ wrong === 1 ? 'it' : 'them' }}
            </button>
          </p>
        </template>
        <h2 class="mt-6 first:mt-0">The typeface</h2>
        <TypefaceFactsPart :at="at" />
        <p v-if="session.canEdit && face.releases.length === 0" class="mt-6">
          <button type="button" class="link" @click="forget">Forget this typeface</button>
        </p>
      </template>
    </aside>
    <div v-if="over" class="pointer-events-none fixed inset-0 z-40 flex items-center justify-center bg-paper/90" aria-hidden="true">
      <p class="border-2 border-dashed border-action px-10 py-8 font-serif text-[22px]">Drop filled pages, or letters as SVG</p>
    </div>
  </div>
</template>
