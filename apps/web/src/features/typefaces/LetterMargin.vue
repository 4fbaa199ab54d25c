<script setup lang="ts">
import { routes, type Contour, type LetterStep, type TypefaceAct, type TypefaceGlyph, type TypefaceLetter } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { call, sentence } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import { count } from '../../platform/words';
import { useSession } from '../accounts/session';
import ScreenPen from './ScreenPen.vue';
import { BOX, GUIDES, sayGlyph, type FaceAtHand } from './typeface';

/** Notes on the glyphs that are chosen: how they look, what looks wrong, and what is done to them. */
const props = defineProps<{ at: FaceAtHand; glyphs: readonly TypefaceGlyph[] }>();
const emit = defineEmits<{ edit: [letter: TypefaceLetter] }>();
const session = useSession();
const voice = useVoice();
const one = computed(() => (props.glyphs.length === 1 ? props.glyphs[0]! : null));
const ids = computed(() => props.glyphs.flatMap((g) => g.letterId ?? []));
const letter = ref<TypefaceLetter | null>(null);
const held = ref(false);
const drawing = ref(false);
watch(
  () => [one.value?.letterId, props.at.face.value?.version] as const,
  async ([id], old) => {
    if (id !== old?.[0]) drawing.value = false;
    if (!id) return void (letter.value = null);
    try {
      const found = await call(routes.getLetter, { params: { typefaceId: props.at.face.value!.id, letterId: id } });
      // Somebody may have gone on to another one meanwhile.
      if (one.value?.letterId === id) letter.value = found;
    } catch (error) {
      voice.say(sentence(error), 'fault');
    }
  },
  { immediate: true },
);
const step = (s: LetterStep): Promise<boolean> => props.at.act({ act: 'step', ids: ids.value, step: s });
const STEPS: readonly { label: string; step: LetterStep }[] = [
  { label: 'Up', step: { step: 'move', x: 0, y: 10 } },
  { label: 'Down', step: { step: 'move', x: 0, y: -10 } },
  { label: 'Larger', step: { step: 'scale', by: 1.05 } },
  { label: 'Smaller', step: { step: 'scale', by: 0.95 } },
  { label: 'Thicker', step: { step: 'weight', by: 8 } },
  { label: 'Thinner', step: { step: 'weight', by: -8 } },
  { label: 'Smoother', step: { step: 'smooth', within: 3 } },
  { label: 'Turn left', step: { step: 'turn', degrees: 2 } },
  { label: 'Turn right', step: { step: 'turn', degrees: -2 } },
  { label: 'Mirror', step: { step: 'flip', across: 'vertical' } },
  { label: 'Upside down', step: { step: 'flip', across: 'horizontal' } },
  { label: 'Cut at the box', step: { step: 'cut' } },
  { label: 'Without specks', step: { step: 'clean' } },
];
const others = computed(() => props.at.glyphs.value.filter((g) => g.letterId && g.name !== one.value?.name));
function borrow(event: Event): void {
  const from = (event.target as HTMLSelectElement).value;
  const g = one.value!;
  if (from !== '') void props.at.act({ act: 'borrow', from, to: { character: g.character, variant: g.variant } });
}
function remove(): void {
  void props.at.act({ act: 'remove', ids: ids.value }, `${count(ids.value.length, 'drawing')} out.`, { act: 'restore', ids: ids.value });
}
/** Sides as they are typed. */
const left = ref('');
const right = ref('');
watch(
  one,
  (g) => {
    left.value = g ? String(Math.round(g.left)) : '';
    right.value = g ? String(Math.round(g.right)) : '';
  },
  { immediate: true },
);
/** A number, or the letter that it shall be as. */
function side(text: string): { value: number | null; as: string | null } | null {
  const plain = text.trim().replace(/^=/, '');
  if (plain === '') return { value: null, as: null };
  if (/^-?\d+(?:\.\d+)?$/.test(plain)) return { value: Number(plain), as: null };
  return [...plain].length === 1 ? { value: null, as: plain } : null;
}
async function sides(which: 'left' | 'right'): Promise<void> {
  const g = one.value!;
  const typed = side(which === 'left' ? left.value : right.value);
  if (!typed) return voice.say('A side is a number of thousandths of the em, or a letter whose side it takes, as =n.', 'fault');
  const keep = (is: boolean, value: number): number | null => (is ? Math.round(value) : null);
  const act: TypefaceAct =
    which === 'left'
      ? { act: 'sides', character: g.character, left: typed.value, leftAs: typed.as, right: keep(g.locked.right, g.right), rightAs: null }
      : { act: 'sides', character: g.character, right: typed.value, rightAs: typed.as, left: keep(g.locked.left, g.left), leftAs: null };
  await props.at.act(act);
}
const unlock = (): Promise<boolean> =>
  props.at.act({ act: 'sides', character: one.value!.character, left: null, right: null, leftAs: null, rightAs: null });
const marks = computed(() => (one.value?.of && one.value.of.length > 1 ? one.value.of.slice(1).filter((c) => /^\p{M}/u.test(c)) : []));
const shifts = ref<{ x: number; y: number }[]>([]);
watch(
  () => one.value?.name,
  // What was moved before is moved on from, not forgotten.
  () => (shifts.value = marks.value.map((_, i) => ({ ...(one.value?.adjusted[i] ?? { x: 0, y: 0 }) }))),
  { immediate: true },
);
function nudge(i: number, x: number, y: number): void {
  shifts.value = shifts.value.map((s, k) => (k === i ? { x: s.x + x, y: s.y + y } : s));
  void props.at.act({ act: 'adjust', character: one.value!.character, shifts: shifts.value });
}
const view = computed(() => {
  const g = one.value;
  const from = g ? Math.min(-60, g.advance / 2 - 620) : 0;
  return `${from} ${-BOX.top - 60} 1240 ${BOX.top - BOX.bottom + 120}`;
});
const inkShift = computed(() => {
  // Ink lies where its box is; the outline where its advance begins.
  const x = /^M(-?[\d.]+)/.exec(one.value?.path ?? '')?.[1];
  const start = letter.value?.outline[0]?.start[0];
  return x !== undefined && start !== undefined ? Number(x) - start : 0;
});
const keepEdit = (contours: Contour[]): Promise<boolean> => step({ step: 'edit', contours });
defineExpose({ keepEdit });
</script>

<template>
  <div>
    <template v-if="one">
      <h2>{{ sayGlyph(one) }}</h2>
      <p class="note mb-2">
        <template v-if="one.of">Made of {{ one.of.map((c) => (/^\p{M}/u.test(c) ? `◌${c}` : c)).join(' and ') }}.</template>
        <template v-else-if="letter">{{ letter.from }}.</template>
        Advance {{ Math.round(one.advance) }}.
      </p>
      <svg :viewBox="view" class="w-full border border-rule-strong bg-sheet" aria-hidden="true">
        <line v-for="g in GUIDES" :key="g" x1="-2000" x2="4000" :y1="-g" :y2="-g" stroke="var(--rule)" :stroke-width="g === 0 ? 4 : 2" />
        <line v-for="x in [0, one.advance]" :key="x" :x1="x" :x2="x" y1="-2000" y2="2000" stroke="var(--rule-strong)" stroke-width="2" />
        <path v-if="held && letter" :d="letter.ink" :transform="`translate(${inkShift} 0)`" fill="var(--no)" fill-opacity="0.6" />
        <path :d="one.path" fill="currentColor" :fill-opacity="held ? 0.55 : 1" />
      </svg>
      <button
        v-if="letter && letter.steps.length > 0"
        type="button"
        class="press-quiet mt-2 w-full"
        :aria-pressed="held"
        @pointerdown="held = true"
        @pointerup="held = false"
        @pointerleave="held = false"
        @keydown.space.prevent="held = true"
        @keyup.space="held = false"
        @blur="held = false"
      >
        Hold to see the ink as it came in
      </button>
      <div v-for="f in one.findings" :key="f.code" class="mt-2 border-l-4 border-ask bg-ask-pale px-3 py-2">{{ f.message }}</div>
    </template>
    <h2 v-else>{{ count(glyphs.length, 'glyph') }}</h2>
    <template v-if="session.canEdit">
      <section v-if="one && !one.of" class="mt-4">
        <button v-if="!drawing" type="button" class="press-quiet w-full" @click="drawing = true">Draw it again here</button>
        <ScreenPen
          v-else
          :character="one.character"
          :variant="one.variant"
          :busy="at.busy.value !== ''"
          @keep="async (w, h, gray) => (await at.addBox(one!.character, one!.variant, w, h, gray)) && (drawing = false)"
          @leave="drawing = false"
        />
      </section>
      <section v-if="ids.length > 0" class="mt-4" aria-label="Mend">
        <h3>Mend</h3>
        <div class="mt-2 flex flex-wrap gap-2">
          <button v-for="s in STEPS" :key="s.label" type="button" class="press-quiet !min-h-8 !px-2 text-[13px]" @click="step(s.step)">
            {{ s.label }}
          </button>
          <button type="button" class="press-quiet !min-h-8 !px-2 text-[13px]" @click="at.act({ act: 'heights', ids, to: 'capitals' })">
            As high as capitals
          </button>
          <button type="button" class="press-quiet !min-h-8 !px-2 text-[13px]" @click="at.act({ act: 'heights', ids, to: 'small' })">
            As high as small letters
          </button>
        </div>
        <p v-if="one && letter" class="mt-2"><button type="button" class="link" @click="emit('edit', letter)">Move its points</button></p>
        <ol v-if="one && letter && letter.steps.length > 0" class="mt-2">
          <li v-for="(s, i) in letter.steps" :key="i" class="flex items-center justify-between gap-2 border-t border-rule py-1">
            <span class="note">{{ s }}</span><button type="button" class="link" @click="at.act({ act: 'unstep', ids, at: i })">
              Take back<span class="sr-only">: {{ s }}</span>
            </button>
          </li>
        </ol>
        <button type="button" class="link mt-1" @click="at.act({ act: 'unstep', ids, at: null })">As it was drawn</button>
      </section>
      <section v-for="(m, i) in marks" :key="m" class="mt-4">
        <h3>Where ◌{{ m }} stands</h3>
        <p class="mt-1 flex flex-wrap gap-2">
          <button type="button" class="press-quiet !min-h-8 !px-2 text-[13px]" @click="nudge(i, 0, 10)">Up</button>
          <button type="button" class="press-quiet !min-h-8 !px-2 text-[13px]" @click="nudge(i, 0, -10)">Down</button>
          <button type="button" class="press-quiet !min-h-8 !px-2 text-[13px]" @click="nudge(i, -10, 0)">Left</button>
          <button type="button" class="press-quiet !min-h-8 !px-2 text-[13px]" @click="nudge(i, 10, 0)">Right</button>
        </p>
      </section>
      <section v-if="one && one.kind !== 'mark' && one.variant === 0" class="mt-4">
        <h3>Its sides</h3>
        <div class="mt-1 grid grid-cols-2 gap-3">
          <label class="block"
            ><span class="note">Left{{ one.locked.left ? ', set' : '' }}</span
            ><input v-model="left" class="field" @change="sides('left')"
          /></label>
          <label class="block"
            ><span class="note">Right{{ one.locked.right ? ', set' : '' }}</span
            ><input v-model="right" class="field" @change="sides('right')"
          /></label>
        </div>
        <p class="note mt-1">
          Thousandths of the em; =n takes the side of n.
          <button v-if="one.locked.left || one.locked.right" type="button" class="link" @click="unlock">As computed</button>
        </p>
      </section>
      <section v-if="ids.length > 0" class="mt-4 flex flex-col items-start gap-2">
        <label v-if="one" class="block w-full"
          ><span class="note">Take the drawing of another one</span
          ><select class="field" :value="''" @change="borrow">
            <option value="">Choose …</option>
            <option v-for="g in others" :key="g.name" :value="g.letterId!">{{ sayGlyph(g) }}</option>
          </select></label
        >
        <button type="button" class="press-quiet" @click="remove">Take {{ ids.length === 1 ? 'it' : 'them' }} out</button>
      </section>
    </template>
  </div>
</template>
