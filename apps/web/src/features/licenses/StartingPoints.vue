<script setup lang="ts">
import type { LicenseFields, StartingPoint } from '@orderly-glyph/schema';
import { STARTING_POINTS } from '@orderly-glyph/schema';
import { onMounted, ref } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import { useVoice } from '../../platform/voice';

/** What licenses of a common kind usually say: those that ship, and those the workspace kept. */
const form = defineModel<LicenseFields>({ required: true });
const voice = useVoice();
const kept = ref<StartingPoint[]>([]);
const point = ref('');
onMounted(async () => {
  kept.value = await call(routes.listStartingPoints).catch(() => []);
});

function begin(): void {
  const p = [...kept.value, ...STARTING_POINTS].find((x) => x.id === point.value);
  if (!p) return;
  const before = { ...form.value };
  form.value = {
    ...form.value,
    kind: p.kind,
    uses: { ...p.uses },
    limits: { ...p.limits },
    duties: [...(p.duties ?? [])],
    quotes: {},
    // Nobody has read these terms yet.
    confirmed: false,
  };
  voice.say(`Filled in as “${p.name}” usually is. Read the terms and correct what differs.`, 'told', {
    label: 'Undo',
    run: () => {
      form.value = before;
      point.value = '';
    },
  });
}
async function keep(): Promise<void> {
  const { kind, uses, limits, duties } = form.value;
  const name = form.value.name.slice(0, 80);
  try {
    kept.value = await call(routes.keepStartingPoint, {
      body: { name, hint: '', kind, uses, limits, duties: duties.filter((d) => d.trim() !== '') },
    });
    voice.say(`Kept as a starting point: ${name}.`);
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
async function forget(): Promise<void> {
  const gone = kept.value.find((p) => p.id === point.value);
  if (!gone) return;
  const { id, ...body } = gone;
  try {
    await call(routes.dropStartingPoint, { params: { startingPointId: id } });
    kept.value = kept.value.filter((p) => p.id !== id);
    point.value = '';
    voice.say(`Forgotten: ${gone.name}.`, 'told', {
      label: 'Undo',
      run: () =>
        void call(routes.keepStartingPoint, { body }).then(
          (all) => (kept.value = all),
          (error: unknown) => voice.say(sentence(error), 'fault'),
        ),
    });
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
</script>

<template>
  <div class="mt-2 flex flex-wrap items-end gap-3">
    <label class="min-w-0 flex-1"
      >Begin as licenses of a kind usually are<select v-model="point" class="field" @change="begin">
        <option value="">Choose a starting point</option>
        <optgroup v-if="kept.length > 0" label="Kept here">
          <option v-for="p in kept" :key="p.id" :value="p.id">{{ p.name }}</option>
        </optgroup>
        <optgroup label="Common kinds">
          <option v-for="p in STARTING_POINTS" :key="p.id" :value="p.id">{{ p.name }}: {{ p.hint }}</option>
        </optgroup>
      </select></label
    >
    <button type="button" class="press-quiet" :disabled="!form.name.trim()" @click="keep">Keep these answers as one</button>
    <button v-if="kept.some((p) => p.id === point)" type="button" class="link text-no" @click="forget">Forget it</button>
  </div>
</template>
