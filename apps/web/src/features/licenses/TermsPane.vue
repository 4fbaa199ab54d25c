<script setup lang="ts">
import type { KnownText } from '@orderly-glyph/schema';
import { ref } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import KnownTextNote from './KnownText.vue';
import type { ShownText } from './shown';

/** The terms as they came along, and what was made of them; where none did, they can be pasted. */
defineProps<{ opening: string; canEdit: boolean; came: number }>();
defineEmits<{ take: [known: KnownText] }>();
const shown = defineModel<ShownText | null>({ required: true });
/** A text that was pasted and is kept as evidence once the license is. */
const pasted = defineModel<string>('pasted', { required: true });
const voice = useVoice();
const draft = ref('');
const busy = ref(false);

async function readPasted(): Promise<void> {
  const text = draft.value.trim();
  if (text === '') return;
  busy.value = true;
  try {
    const answer = await call(routes.readTermsText, { body: { text } });
    shown.value = { name: 'Pasted terms.txt', text, unread: null, ...answer };
    pasted.value = text;
    draft.value = '';
  } catch (error) {
    voice.say(sentence(error), 'fault');
  } finally {
    busy.value = false;
  }
}

/** Texts are often broken at 70 letters; joined again they fill the column. Short lines are meant to stand alone. */
function flowing(text: string): string {
  const lines = text.replace(/\r\n?/g, '\n').split('\n');
  return lines
    .map(
      (line, i) =>
        line +
        (i === lines.length - 1 ? '' : line.length > 47 && /[^=_*-]$/.test(line) && /^[^\s\-*=#\d(]/.test(lines[i + 1]!) ? ' ' : '\n'),
    )
    .join('');
}
</script>

<template>
  <aside
    aria-label="The terms"
    class="w-[400px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-6 py-6 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    tabindex="0"
  >
    <template v-if="shown">
      <h2 class="break-words">{{ shown.name.split('/').pop() }}</h2>
      <KnownTextNote v-for="r in shown.recognised" :key="r.spdxId" class="mt-2" :known="r" recognised />
      <button
        v-for="r in shown.recognised.filter((k) => canEdit && Object.keys(k.answers).length > 0)"
        :key="`take ${r.spdxId}`"
        type="button"
        class="link mt-1 block text-note"
        @click="$emit('take', r)"
      >
        Fill in what the {{ r.name }} allows
      </button>
      <p v-if="shown.doubt" class="mt-2 border-l-4 border-no bg-no-pale px-3 py-2">
        Words beside the license say that it does not apply: “{{ shown.doubt }}” Every use is left open.
      </p>
      <p v-for="m in shown.mentions" :key="m.name" class="mt-2 border-l-4 border-ask bg-ask-pale px-3 py-2">
        “{{ m.sentence }}” names the {{ m.name }}{{ m.doubt ? `. ${m.doubt}` : ', whose text is not here.' }}
      </p>
      <KnownTextNote v-if="shown.near && shown.recognised.length === 0" class="mt-2" :known="shown.near" :recognised="false" />
      <p v-if="shown.recognised.length > 0 && shown.narrowing[0]" class="mt-2 border-l-4 border-no bg-no-pale px-3 py-2">
        Beside the license stands: “{{ shown.narrowing[0].sentence }}” We do not know that this changes nothing, so the uses it may bear on
        are left open. Read it and answer them yourself.
      </p>
      <p
        v-if="shown.recognised.length === 0 && shown.reading && !shown.reading.english"
        class="mt-2 border-l-4 border-ask bg-ask-pale px-3 py-2"
      >
        This text is not in English, the only language whose terms are sorted here. Read it yourself, or have it translated, and answer each
        use.
      </p>
      <p v-if="shown.text === null" class="mt-2 text-soft">
        {{ shown.unread ?? 'Its text cannot be read here. It is kept as it is; download it to look.' }}
      </p>
      <p v-else class="mt-3 font-serif text-[15px] leading-[23px] break-words whitespace-pre-line">{{ flowing(shown.text) }}</p>
    </template>
    <p v-else-if="opening" class="text-soft">Reading {{ opening.split('/').pop() }} …</p>
    <p v-else-if="came > 0" class="text-soft">
      {{ came === 1 ? 'A file' : `${came} files` }} came with these faces; choose one to read under “Evidence”, or paste the terms.
    </p>
    <p v-else class="text-soft">No text came with these faces. Look on the receipt or the seller’s page for what they allow.</p>
    <div v-if="canEdit" class="mt-6 border-t border-rule pt-4">
      <label
        >{{ shown ? 'Or paste other terms' : 'Paste the terms'
        }}<textarea v-model="draft" class="field" rows="4" maxlength="200000" placeholder="From the seller’s page or an e-mail"></textarea>
      </label>
      <button type="button" class="press-quiet mt-2" :disabled="busy || draft.trim() === ''" @click="readPasted">
        {{ busy ? 'Reading …' : 'Read them' }}
      </button>
      <p v-if="pasted" class="note mt-1">The pasted text is kept as evidence with the license.</p>
    </div>
  </aside>
</template>
