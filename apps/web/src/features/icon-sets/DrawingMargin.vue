<script setup lang="ts">
import type { Drawing, IconAct, IconFacts, PlaceStep } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { useVoice } from '../../platform/voice';
import { count } from '../../platform/words';
import { useSession } from '../accounts/session';
import DrawingLarge from './DrawingLarge.vue';
import { FINDING_WORDS } from './finding-words';
import { codePointOf, uPlus } from './icon-set';
import IconMark from './IconMark.vue';

/** Notes on the drawings that are chosen: what is to be said about them, how they are called, and how they stand. */
const props = defineProps<{
  drawings: readonly Drawing[];
  /** All of the set. */
  all: readonly Drawing[];
  facts: IconFacts;
  act: (what: IconAct, told?: string, back?: IconAct | null) => Promise<boolean>;
}>();
const emit = defineEmits<{ remove: [rows: readonly Drawing[]] }>();
const session = useSession();
const voice = useVoice();
const one = computed(() => (props.drawings.length === 1 ? props.drawings[0]! : null));
const ids = computed(() => props.drawings.map((d) => d.id));
const name = ref('');
const keepOld = ref(true);
const code = ref('');
const words = ref('');
const characters = ref('');
const aliases = ref('');
watch(
  one,
  (d) => {
    name.value = d?.name ?? '';
    keepOld.value = d?.locked ?? true;
    code.value = d && d.codePoint !== null ? uPlus(d.codePoint) : '';
    words.value = d?.words.join(', ') ?? '';
    aliases.value = d?.aliases.join(', ') ?? '';
    characters.value = d?.characters.map((c) => String.fromCodePoint(c)).join(' ') ?? '';
  },
  { immediate: true },
);
const listed = (text: string): string[] => text.split(/[\s,]+/).filter(Boolean);
async function rename(): Promise<void> {
  const d = one.value!;
  const next = name.value.trim();
  if (next === d.name || next === '') return void (name.value = d.name);
  if (!(await props.act({ act: 'rename', ids: [d.id], name: next, keepOld: keepOld.value }, `“${d.name}” is called “${next}”.`)))
    name.value = d.name;
}
async function number(): Promise<void> {
  const d = one.value!;
  const c = code.value.trim() === '' ? null : codePointOf(code.value);
  if (c === null && code.value.trim() !== '') return voice.say('A code point is written as U+E001. Nothing was changed.', 'fault');
  if (c === d.codePoint) return;
  if (!(await props.act({ act: 'code', ids: [d.id], codePoint: c }))) code.value = d.codePoint === null ? '' : uPlus(d.codePoint);
}
async function setCharacters(): Promise<void> {
  const found = listed(characters.value).map(codePointOf);
  if (found.includes(null))
    return voice.say('Characters are entered as themselves or as U+2192, with spaces between them. Nothing was changed.', 'fault');
  await props.act({ act: 'characters', ids: [one.value!.id], characters: found as number[] });
}
const place = (step: PlaceStep): Promise<boolean> => props.act({ act: 'place', ids: ids.value, step });
const NUDGE = 1 / 48;
const STEPS: readonly { label: string; step: PlaceStep }[] = [
  { label: 'Fit to the board', step: { step: 'fit', margin: 1 / 24 } },
  { label: 'To the middle', step: { step: 'align', to: 'middle' } },
  { label: 'Onto the bottom edge', step: { step: 'align', to: 'bottom' } },
  { label: 'Larger', step: { step: 'scale', by: 1.05 } },
  { label: 'Smaller', step: { step: 'scale', by: 0.95 } },
  { label: 'Turn left', step: { step: 'turn', degrees: 90 } },
  { label: 'Turn right', step: { step: 'turn', degrees: -90 } },
  { label: 'Mirror', step: { step: 'flip', across: 'vertical' } },
  { label: 'Upside down', step: { step: 'flip', across: 'horizontal' } },
  { label: 'Left', step: { step: 'nudge', x: -NUDGE, y: 0 } },
  { label: 'Right', step: { step: 'nudge', x: NUDGE, y: 0 } },
  { label: 'Up', step: { step: 'nudge', x: 0, y: NUDGE } },
  { label: 'Down', step: { step: 'nudge', x: 0, y: -NUDGE } },
];
const snap = computed<PlaceStep>(() => ({ step: 'snap', px: props.facts.smallest }));
const INKINGS = { dark: true, merge: true, color: true } as const;

function mend(id: string): void {
  if (id === 'front') void split();
  else if (id in INKINGS) void props.act({ act: 'inking', ids: ids.value, inking: id as keyof typeof INKINGS });
  else void props.act({ act: 'cut', ids: ids.value, cut: id === 'cut' });
}
const split = (): Promise<boolean> =>
  props.act({ act: 'split', ids: ids.value }, 'The lighter layer is a drawing of its own now, beneath.', { act: 'join', ids: ids.value });
function join(): void {
  const { id, inking, beneath: under } = one.value!;
  const back: IconAct = inking === 'front' ? { act: 'split', ids: [id] } : { act: 'beneath', ids: [id], beneath: under };
  void props.act({ act: 'join', ids: [id] }, 'It stands alone again.', back);
}
/** What may lie beneath the one that is chosen: drawings that have nothing beneath themselves. */
const below = computed(() => props.all.filter((d) => d.id !== one.value?.id && d.beneath === null));
const isBelow = computed(() => one.value !== null && props.all.some((d) => d.beneath === one.value!.id));
const beneath = computed(() => props.all.find((d) => d.id === one.value?.beneath) ?? null);
function lay(event: Event): void {
  const id = (event.target as HTMLSelectElement).value;
  void props.act({ act: 'beneath', ids: ids.value, beneath: id === '' ? null : id });
}
/** Findings of several drawings, each once, with how many have it. */
const together = computed(() => {
  const out = new Map<
    string,
    { message: string; severity: string; code: string; ids: number; remedies: Drawing['findings'][number]['remedies'] }
  >();
  for (const d of props.drawings)
    for (const f of d.findings) {
      const known = out.get(f.code);
      if (known) known.ids++;
      else out.set(f.code, { message: f.message, severity: f.severity, code: f.code, ids: 1, remedies: f.remedies });
    }
  return [...out.values()];
});
const TONE: Record<string, string> = { lost: 'border-no bg-no-pale', look: 'border-ask bg-ask-pale', note: 'border-rule-strong' };
const line = computed(() =>
  one.value
    ? props.facts.selector === 'class'
      ? `<span class="${props.facts.base} ${props.facts.prefix}${one.value.name}" aria-hidden="true"></span>`
      : `<span data-${props.facts.base}="${one.value.name}" aria-hidden="true"></span>`
    : '',
);
</script>

<template>
  <div>
    <template v-if="one">
      <h2>{{ one.name }}</h2>
      <p class="note mb-3">
        <span v-if="one.from">From {{ one.from }}. </span><span v-else-if="one.original !== one.name">Came as {{ one.original }}. </span
        >{{ Math.round(one.points) }}
        points.
      </p>
      <DrawingLarge :drawing="one" />
      <p class="mt-3 flex items-end justify-between" aria-hidden="true">
        <span v-for="s in [16, 20, 24, 32, 64]" :key="s" class="flex flex-col items-center gap-1"
          ><IconMark :drawing="one" :size="s" /><span class="note">{{ s }}</span></span
        >
      </p>
    </template>
    <h2 v-else>{{ count(drawings.length, 'drawing') }}</h2>
    <section v-if="together.length > 0" class="mt-4" aria-label="Worth a look">
      <div v-for="f in together" :key="f.code" class="mt-2 border-l-4 px-3 py-2" :class="TONE[f.severity]">
        <p>{{ one ? f.message : `${count(f.ids, 'drawing')} ${FINDING_WORDS[f.code] ?? f.message}` }}</p>
        <p v-if="f.remedies.length > 0 && session.canEdit" class="mt-2 flex flex-col items-start gap-1">
          <button
            v-for="(r, i) in f.remedies"
            :key="r.id"
            type="button"
            class="block min-h-6 text-left"
            :class="i === 0 && one ? 'font-semibold' : 'link'"
            :disabled="i === 0 && one !== null"
            @click="mend(r.id)"
          >
            {{ i === 0 && one ? `✓ ${r.label}` : r.label }}
          </button>
        </p>
      </div>
    </section>
    <template v-if="session.canEdit">
      <section v-if="one" class="mt-5 flex flex-col gap-3" aria-label="Name and code">
        <label class="block"
          ><span class="note">Name</span
          ><input v-model="name" class="field" maxlength="60" autocomplete="off" @change="rename" @keydown.enter="rename"
        /></label>
        <label v-if="name !== one.name" class="flex items-start gap-2"
          ><input v-model="keepOld" type="checkbox" class="accent-action" />The old class goes on working</label
        >
        <label class="block"
          ><span class="note">Code point{{ one.locked ? ', released: it stays' : '' }}</span
          ><input v-model="code" class="field font-mono" :disabled="one.locked" @change="number"
        /></label>
        <label class="block"
          ><span class="note">Words that become it when typed</span
          ><input v-model="words" class="field" @change="act({ act: 'words', ids: [one.id], words: listed(words) })"
        /></label>
        <label class="block"
          ><span class="note">Characters that it is, such as → or U+2605</span
          ><input v-model="characters" class="field" @change="setCharacters"
        /></label>
        <label class="block"
          ><span class="note">Older names whose classes work</span
          ><input v-model="aliases" class="field" @change="act({ act: 'aliases', ids: [one.id], aliases: listed(aliases) })"
        /></label>
        <p>
          <code class="code block border border-rule bg-paper px-2 py-1">{{ line }}</code><button
            type="button"
            class="link mt-1"
            @click="voice.copy(line, 'The line is copied.')"
          >
            Copy this line
          </button>
        </p>
      </section>
      <section class="mt-5" aria-label="Place on the board">
        <h3>On the board</h3>
        <div class="mt-2 flex flex-wrap gap-2">
          <button v-for="s in STEPS" :key="s.label" type="button" class="press-quiet !min-h-8 !px-2 text-[13px]" @click="place(s.step)">
            {{ s.label }}
          </button>
          <button type="button" class="press-quiet !min-h-8 !px-2 text-[13px]" @click="place(snap)">
            Onto pixels at {{ facts.smallest }}
          </button>
          <button
            v-if="drawings.length > 1"
            type="button"
            class="press-quiet !min-h-8 !px-2 text-[13px]"
            @click="act({ act: 'even-out', ids }, 'They look of one size.')"
          >
            Even out their sizes
          </button>
        </div>
        <ol v-if="one && one.steps.length > 0" class="mt-3">
          <li v-for="(s, i) in one.steps" :key="i" class="flex items-center justify-between gap-2 border-t border-rule py-1">
            <span class="note">{{ s }}</span><button type="button" class="link" @click="act({ act: 'unplace', ids: [one.id], at: i })">
              Take back<span class="sr-only">: {{ s }}</span>
            </button>
          </li>
        </ol>
        <button
          v-if="drawings.some((d) => d.steps.length > 0)"
          type="button"
          class="link mt-2"
          @click="act({ act: 'unplace', ids, at: null })"
        >
          As it was drawn
        </button>
      </section>
      <section class="mt-5 flex flex-col items-start gap-2">
        <label class="flex items-start gap-2"
          ><input
            type="checkbox"
            class="accent-action"
            :checked="drawings.every((d) => d.mirror)"
            @change="act({ act: 'mirror', ids, mirror: ($event.target as HTMLInputElement).checked })"
          />Mirrored in text that runs right to left</label
        >
        <template v-if="one && beneath"
          ><p>Shown in two tones: “{{ beneath.name }}” lies beneath it, paler, where a style sheet draws it.</p>
          <button type="button" class="link" @click="join">Let it stand alone</button></template
        ><label v-else-if="one && !isBelow && below.length > 0" class="block w-full"
          ><span class="note">Drawing beneath it, in a paler tone</span
          ><select class="field" :value="''" @change="lay">
            <option value="">None</option>
            <option v-for="d in below" :key="d.id" :value="d.id">{{ d.name }}</option>
          </select></label
        >
        <button
          v-if="!one"
          type="button"
          class="press-quiet"
          @click="act({ act: 'words-by-name', ids }, 'Their names become them when typed.')"
        >
          Let their names become them when typed
        </button>
        <button type="button" class="press-quiet" @click="emit('remove', drawings)">Take {{ one ? 'it' : 'them' }} out of the set</button>
      </section>
    </template>
  </div>
</template>
