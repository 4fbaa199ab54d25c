<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useSession } from '../accounts/session';
import SpacingBoard from './SpacingBoard.vue';
import { sayGlyph, type FaceAtHand } from './typeface';

/** Words in the typeface as it is, the white between its letters, and pairs. */
const props = defineProps<{ at: FaceAtHand }>();
const session = useSession();
const face = computed(() => props.at.face.value!);
/** Words of its languages, and some that show much at once; those that the face cannot write are not offered. */
const WORDS = ['Hamburg onions, minimum honey', 'Type WAVES To AVOID “Yolk” 2027'];
const SAMPLES = computed(() => {
  const has = new Set(face.value.glyphs.map((g) => g.character));
  const can = WORDS.filter((w) => [...w].every((c) => c === ' ' || has.has(c))).map((text) => ({ label: text, text }));
  const all = [...can, ...face.value.samples];
  return all.length > 0 ? all : [{ label: WORDS[0]!, text: WORDS[0]! }];
});
const text = ref(SAMPLES.value[0]!.text);
const byHand = ref(false);
/** Whether the words stand in the face as it was before the last change. */
const before = ref(false);
const size = ref(44);
const kerned = ref(true);
const family = ref('');
let loaded: FontFace | null = null;
/** The face before the last change, for as long as this screen is open. */
let earlier: FontFace | null = null;
const earlierFamily = ref('');
const failed = ref(false);
/** The face of this very version, under a name of its own; the one before stays until it is there. */
watch(
  () => face.value.version,
  async (version) => {
    if (face.value.glyphs.length === 0) return;
    const name = `drawn-${face.value.id}-${version}`;
    const next = new FontFace(name, `url(${props.at.previewAddress()})`);
    try {
      await next.load();
      document.fonts.add(next);
      if (earlier) document.fonts.delete(earlier);
      earlier = loaded;
      loaded = next;
      earlierFamily.value = earlier?.family ?? '';
      family.value = name;
      failed.value = false;
    } catch {
      failed.value = true;
    }
  },
  { immediate: true },
);
onBeforeUnmount(() => [loaded, earlier].forEach((f) => f && document.fonts.delete(f)));
const white = ref(0);
watch(
  () => face.value.white.is,
  (is) => (white.value = Math.round(is)),
  { immediate: true },
);
const FROM = { set: 'as it was set', words: 'as the written words show', letters: 'by the white within the letters' } as const;
const find = ref('');
const pairs = computed(() =>
  face.value.pairs.filter((p) => find.value === '' || [...find.value].every((c) => p.left === c || p.right === c)).slice(0, 60),
);
const left = ref('');
const right = ref('');
const value = ref(-20);
const setPair = (l: string, r: string, v: number | null): Promise<boolean> => props.at.act({ act: 'pair', left: l, right: r, value: v });
async function addPair(): Promise<void> {
  if (await setPair(left.value, right.value, value.value)) left.value = right.value = '';
}
const features = (more: Partial<{ kern: boolean; turns: boolean; tabular: boolean; connected: boolean }>): Promise<boolean> =>
  props.at.act({
    act: 'features',
    kern: face.value.kern,
    turns: face.value.turns,
    tabular: face.value.tabular,
    connected: face.value.connected,
    ...more,
  });
const style = computed(() => ({
  fontFamily: before.value && earlierFamily.value ? `"${earlierFamily.value}"` : family.value ? `"${family.value}"` : undefined,
  fontSize: `${size.value}px`,
  fontKerning: kerned.value ? ('normal' as const) : ('none' as const),
  lineHeight: 1.35,
}));
</script>

<template>
  <section class="mt-4">
    <div class="flex flex-wrap items-end gap-4">
      <label class="block min-w-64 flex-1"><span class="note">Words</span><input v-model="text" class="field" maxlength="300" /></label>
      <label class="block"
        ><span class="note">Size, {{ size }} px</span
        ><input v-model.number="size" type="range" min="12" max="120" class="block accent-action"
      /></label>
      <label class="flex items-center gap-2 pb-2"><input v-model="kerned" type="checkbox" class="accent-action" />Kerned</label>
      <label v-if="earlierFamily" class="flex items-center gap-2 pb-2"
        ><input v-model="before" type="checkbox" class="accent-action" />Before the last change</label
      >
      <label class="flex items-center gap-2 pb-2"><input v-model="byHand" type="checkbox" class="accent-action" />By hand</label>
    </div>
    <p class="mt-1 flex flex-wrap gap-x-4">
      <button v-for="s in SAMPLES" :key="s.label" type="button" class="link text-[13px]" @click="text = s.text">{{ s.label }}</button>
    </p>
    <p v-if="failed" role="alert" class="mt-3 text-no">The face cannot be shown yet: it has no letter, or the server did not answer.</p>
    <SpacingBoard v-if="byHand" :at="at" :text="text" :editable="session.canEdit" class="mt-3" />
    <p class="mt-3 min-h-16 border border-rule bg-sheet px-4 py-3 break-words" :style="style">{{ text }}</p>
  </section>
  <div class="mt-6 grid grid-cols-2 gap-8 max-xl:grid-cols-1">
    <section>
      <h2>White between letters</h2>
      <p class="mt-1">{{ Math.round(face.white.is) }} thousandths of the em beside a straight small letter, {{ FROM[face.white.from] }}.</p>
      <template v-if="session.canEdit">
        <label class="mt-2 block max-w-sm"
          ><span class="note">Closer or wider, {{ white }}</span
          ><input
            v-model.number="white"
            type="range"
            min="0"
            max="200"
            class="block w-full accent-action"
            @change="at.act({ act: 'white', white })"
        /></label>
        <button v-if="face.white.set !== null" type="button" class="link" @click="at.act({ act: 'white', white: null })">
          As computed
        </button>
        <p class="mt-4 flex flex-col gap-1">
          <label class="flex items-start gap-2"
            ><input
              type="checkbox"
              class="accent-action"
              :checked="face.kern"
              @change="features({ kern: ($event.target as HTMLInputElement).checked })"
            />Pairs are kerned by computation</label
          >
          <label class="flex items-start gap-2"
            ><input
              type="checkbox"
              class="accent-action"
              :checked="face.turns"
              @change="features({ turns: ($event.target as HTMLInputElement).checked })"
            />Further drawings take turns</label
          >
          <label class="flex items-start gap-2"
            ><input
              type="checkbox"
              class="accent-action"
              :checked="face.tabular"
              @change="features({ tabular: ($event.target as HTMLInputElement).checked })"
            />Figures of one width beside the others (tnum)</label
          >
          <label class="flex items-start gap-2"
            ><input
              type="checkbox"
              class="accent-action"
              :checked="face.connected"
              @change="features({ connected: ($event.target as HTMLInputElement).checked })"
            />Small letters connect: strokes that lead out end in the next letter</label
          >
        </p>
      </template>
      <h2 class="mt-6">Sides that were set</h2>
      <ul class="mt-1">
        <li
          v-for="g in face.glyphs.filter((x) => x.variant === 0 && !x.of && (x.locked.left || x.locked.right))"
          :key="g.name"
          class="border-t border-rule py-1"
        >
          {{ sayGlyph(g) }}: {{ Math.round(g.left) }} and {{ Math.round(g.right) }}
        </li>
      </ul>
      <p class="note mt-1">
        Sides are set beside each letter, in the margin of <em>Letters</em>; what is set is never changed by computation.
      </p>
    </section>
    <section>
      <h2>Pairs</h2>
      <p class="mt-1">{{ face.pairCount.toLocaleString('en-US') }} pairs move; the largest first.</p>
      <form v-if="session.canEdit" class="mt-2 flex flex-wrap items-end gap-3" @submit.prevent="addPair">
        <label class="block w-16"><span class="note">Left</span><input v-model="left" class="field" maxlength="4" required /></label>
        <label class="block w-16"><span class="note">Right</span><input v-model="right" class="field" maxlength="4" required /></label>
        <label class="block w-24"
          ><span class="note">Moves by</span><input v-model.number="value" class="field" type="number" min="-500" max="500"
        /></label>
        <button class="press-quiet">Set it</button>
      </form>
      <label class="mt-3 block w-40"><span class="note">Find pairs of</span><input v-model="find" class="field" maxlength="2" /></label>
      <table class="mt-2 w-full">
        <thead>
          <tr class="note text-left">
            <th class="font-normal">Pair</th>
            <th class="font-normal">Moves by</th>
            <td></td>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in pairs" :key="`${p.left} ${p.right}`" class="border-t border-rule">
            <td class="py-1" :style="{ fontFamily: family ? `'${family}'` : undefined, fontSize: '24px' }">{{ p.left }}{{ p.right }}</td>
            <td>
              <input
                v-if="session.canEdit"
                type="number"
                class="field w-24"
                min="-500"
                max="500"
                :value="p.value"
                :aria-label="`${p.left} ${p.right} moves by`"
                @change="setPair(p.left, p.right, Number(($event.target as HTMLInputElement).value))"
              /><span v-else>{{ p.value }}</span>
            </td>
            <td class="text-right">
              <button v-if="p.locked && session.canEdit" type="button" class="link" @click="setPair(p.left, p.right, null)">
                As computed
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>
