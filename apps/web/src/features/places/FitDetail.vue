<script setup lang="ts">
import type { PreflightFace } from '@orderly-glyph/schema';
import { computed } from 'vue';
import { useSession } from '../accounts/session';
import LiveText from '../faces/LiveText.vue';
import { useLibrary } from '../library/library';
import VerdictMark from '../licenses/VerdictMark.vue';
import { size } from '../../platform/words';
import GoAhead from './GoAhead.vue';

/** What a place says to a face, with what mends it. */
const props = defineProps<{ cell: PreflightFace; asksWhy: boolean }>();
const emit = defineEmits<{ mend: [ids: string[]]; goTo: [where: 'license' | 'library' | 'place']; instead: [faceId: string] }>();
const override = defineModel<boolean | undefined>('override', { required: true });
const note = defineModel<string | undefined>('note', { required: true });
const library = useLibrary();
const session = useSession();
const live = computed(() => library.faces.get(props.cell.faceId)?.face);
type Remedy = PreflightFace['findings'][number]['remedies'][number];

function press(r: Remedy): void {
  if (r.doable) return emit('mend', [...props.cell.chosen.filter((id) => id !== r.id), r.id]);
  if (r.faces[0]) return emit('instead', r.faces[0].faceId);
  if (r.goTo) emit('goTo', r.goTo);
}
const canPress = (r: Remedy): boolean => r.doable || r.goTo !== null || r.faces.length > 0;
const MARK = {
  stops: 'border-no bg-no-pale',
  ask: 'border-ask bg-ask-pale',
  mended: 'border-yes bg-yes-pale',
  note: 'border-rule-strong',
} as const;
</script>

<template>
  <div>
    <p class="overflow-hidden text-[40px] leading-[56px] whitespace-nowrap"><LiveText v-if="live" :face="live" :text="cell.face" /></p>
    <div class="mt-1 flex flex-wrap items-center gap-x-4">
      <span class="font-semibold">{{ cell.face }}</span><VerdictMark :answer="cell.verdict.answer" label="May we" /><span class="note">{{
        cell.licenseName ?? 'no license on record'
      }}</span>
    </div>
    <ul class="mt-3 flex flex-col gap-2">
      <li v-for="f in cell.findings" :key="f.code" class="border-l-4 px-4 py-2" :class="MARK[f.severity]">
        <p>{{ f.message }}</p>
        <template v-for="r in f.remedies" :key="r.id">
          <p v-if="r.forbidden" class="note mt-1">“{{ r.label }}” would mend it, and the license does not allow that: {{ r.forbidden }}</p>
          <p v-else-if="session.canEdit && canPress(r)" class="mt-2 flex flex-wrap items-baseline gap-x-3">
            <button type="button" class="press" @click="press(r)">{{ r.label }}</button><span class="note min-w-0 flex-1">{{
              r.will
            }}</span>
          </p>
        </template>
      </li>
      <li v-if="cell.findings.length === 0" class="border-l-4 border-yes bg-yes-pale px-4 py-2">
        Nothing stands in the way. The file goes out as it is{{ cell.sending ? `, ${size(cell.sending.bytes)}` : '' }}.
      </li>
    </ul>
    <p v-if="cell.chosen.length > 0" class="note mt-2">
      {{ cell.sending ? cell.sending.comparison : 'The copy is made and compared when it is sent.' }}
      <button v-if="session.canEdit" type="button" class="link ml-2" @click="emit('mend', [])">Leave the file as it is</button>
    </p>
    <GoAhead v-model:override="override" v-model:note="note" :denied="cell.overridable" :asks-why="asksWhy" />
  </div>
</template>
