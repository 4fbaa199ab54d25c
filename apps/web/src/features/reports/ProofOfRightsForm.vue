<script setup lang="ts">
import { USES, USE_WORDS } from '@orderly-glyph/schema';
import { ref } from 'vue';
import { callBytes, routes, sentence } from '../../platform/api';
import { saveBytes } from '../../platform/files';
import { useVoice } from '../../platform/voice';

/** Writes the file one shows when asked: for some faces and one use, as PDF or as ZIP with everything it rests on. */
const props = defineProps<{ faceIds: readonly string[]; use?: (typeof USES)[number] }>();
const voice = useVoice();
const use = ref<(typeof USES)[number]>(props.use ?? 'website');
const busy = ref(false);
async function write(as: 'pdf' | 'zip'): Promise<void> {
  busy.value = true;
  try {
    const bytes = await callBytes(routes.writeProofOfRights, { body: { faceIds: [...props.faceIds], use: use.value, as } });
    saveBytes(`proof-of-rights-${use.value}.${as}`, bytes, as === 'pdf' ? 'application/pdf' : 'application/zip');
    voice.say(as === 'pdf' ? 'The proof of rights is written.' : 'The proof of rights is written, with texts, receipts and statements.');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div>
    <label class="block"
      >Proof of rights for<select v-model="use" class="field">
        <option v-for="u in USES" :key="u" :value="u">{{ USE_WORDS[u].label }}</option>
      </select></label
    >
    <p class="mt-2 flex flex-wrap gap-2">
      <button type="button" class="press-quiet" :disabled="busy || faceIds.length === 0" @click="write('pdf')">As PDF</button>
      <button type="button" class="press-quiet" :disabled="busy || faceIds.length === 0" @click="write('zip')">
        As ZIP, with evidence
      </button>
    </p>
    <p class="note mt-1" aria-live="polite">
      {{ busy ? 'Writing …' : 'License texts, receipts, statements, dates and the hash of every file.' }}
    </p>
  </div>
</template>
