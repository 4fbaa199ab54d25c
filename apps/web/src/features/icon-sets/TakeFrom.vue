<script setup lang="ts">
import { routes, type IconSet, type IconSetBrief, type TakenFile } from '@orderly-glyph/schema';
import { computed, onMounted, ref } from 'vue';
import { call } from '../../platform/api';
import { count } from '../../platform/words';
import { useLibrary } from '../library/library';
import { useTray } from '../library/tray';
import IconMark from './IconMark.vue';
import type { SetAtHand } from './icon-set';

/** Drawings that are here already: glyphs of a face whose license allows it, and drawings of another set. */
const props = defineProps<{ at: SetAtHand }>();
const emit = defineEmits<{ done: [taken: TakenFile[]] }>();
const library = useLibrary();
const tray = useTray();
const faceId = ref(tray.faces[0]?.face.id ?? '');
const characters = ref('');
const others = ref<IconSetBrief[]>([]);
const otherId = ref('');
const other = ref<IconSet | null>(null);
const picked = ref<string[]>([]);
onMounted(async () => {
  others.value = (await call(routes.listIconSets, {}).catch(() => [])).filter((s) => s.id !== props.at.set.value?.id);
});
const faces = computed(() => {
  const held = tray.faces.map(({ face, family }) => ({ id: face.id, name: `${family.name} ${face.style}` }));
  return [
    ...held,
    ...library.families
      .filter((f) => !f.archived && !held.some((h) => h.id === f.leadFaceId))
      .map((f) => ({ id: f.leadFaceId, name: f.name })),
  ];
});
async function take(body: { faceId: string; characters: number[] } | { fromSetId: string; drawingIds: string[] }): Promise<void> {
  const answer = await props.at.carryOut(
    () => call(routes.pickGlyphs, { params: { setId: props.at.set.value!.id }, body }),
    'Taking them in …',
  );
  if (!answer) return;
  props.at.takeOver(answer.set);
  emit('done', answer.taken);
}
async function open(): Promise<void> {
  picked.value = [];
  other.value = otherId.value ? await props.at.carryOut(() => call(routes.getIconSet, { params: { setId: otherId.value } })) : null;
}
const points = computed(() => [...new Set([...characters.value.replace(/\s+/g, '')].map((c) => c.codePointAt(0)!))]);
</script>

<template>
  <div class="mt-3 grid max-w-3xl grid-cols-2 gap-6 max-sm:grid-cols-1">
    <form class="flex flex-col gap-2" @submit.prevent="take({ faceId, characters: points })">
      <h3>Glyphs of a face</h3>
      <p class="note">Only of a face whose license allows changing it; the set may then be used for what that face may be used for.</p>
      <label class="block"
        ><span class="note">Face</span
        ><select v-model="faceId" class="field" required>
          <option v-for="f in faces" :key="f.id" :value="f.id">{{ f.name }}</option>
        </select></label
      >
      <label class="block"
        ><span class="note">Its characters, typed or pasted</span><input v-model="characters" class="field" required maxlength="400"
      /></label>
      <p>
        <button class="press-quiet" :disabled="points.length === 0 || faceId === ''">Take {{ count(points.length, 'glyph') }}</button>
      </p>
    </form>
    <form class="flex flex-col gap-2" @submit.prevent="take({ fromSetId: otherId, drawingIds: picked })">
      <h3>Drawings of another set</h3>
      <p v-if="others.length === 0" class="note">There is no other set here.</p>
      <template v-else>
        <label class="block"
          ><span class="note">Set</span
          ><select v-model="otherId" class="field" @change="open">
            <option value="">None yet</option>
            <option v-for="s in others" :key="s.id" :value="s.id">{{ s.family }}</option>
          </select></label
        >
        <div v-if="other" class="flex max-h-40 flex-wrap gap-3 overflow-y-auto">
          <label v-for="d in other.drawings" :key="d.id" class="flex items-center gap-1" :title="d.name"
            ><input v-model="picked" type="checkbox" class="accent-action" :value="d.id" /><IconMark :drawing="d" :size="24" /><span
              class="sr-only"
              >{{ d.name }}</span
            ></label
          >
        </div>
        <p>
          <button class="press-quiet" :disabled="picked.length === 0">Take {{ count(picked.length, 'drawing') }}</button>
        </p>
      </template>
    </form>
  </div>
</template>
