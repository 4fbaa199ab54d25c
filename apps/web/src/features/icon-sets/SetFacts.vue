<script setup lang="ts">
import type { IconFacts } from '@orderly-glyph/schema';
import { ref, watch } from 'vue';

/** What is true of a whole set: for the name table, the style sheet and the kit. */
const props = defineProps<{ facts: IconFacts; change: (facts: IconFacts) => Promise<boolean>; released: boolean }>();
const draft = ref<IconFacts>({ ...props.facts });
const open = ref(false);
watch(
  () => props.facts,
  (f) => (draft.value = { ...f, formats: [...f.formats] }),
);
const FORMATS = ['ttf', 'woff', 'woff2', 'otf'] as const;
async function keep(): Promise<void> {
  if (await props.change({ ...draft.value, prefix: draft.value.prefix.replace(/-*$/, '-') })) open.value = false;
}
</script>

<template>
  <div>
    <dl v-if="!open" class="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1">
      <dt class="note">Classes</dt>
      <dd class="code">{{ facts.selector === 'class' ? `.${facts.base} .${facts.prefix}…` : `[data-${facts.base}="…"]` }}</dd>
      <dt class="note">Stands</dt>
      <dd>{{ facts.line === 'middle' ? 'in the middle of capitals' : 'on the baseline' }}</dd>
      <dt class="note">Em</dt>
      <dd>{{ facts.em ?? 'as its drawings’ grid asks' }}</dd>
      <dt class="note">Shown from</dt>
      <dd>{{ facts.smallest }} px</dd>
      <dt class="note">Files</dt>
      <dd>{{ facts.formats.map((f) => f.toUpperCase()).join(', ') }}</dd>
      <dt class="note">Maker</dt>
      <dd>{{ facts.maker || 'not said' }}</dd>
      <dt class="note">License</dt>
      <dd>{{ facts.license || 'not said' }}</dd>
    </dl>
    <button v-if="!open" type="button" class="link mt-2" @click="open = true">Change these</button>
    <form v-else class="flex flex-col gap-3" @submit.prevent="keep">
      <p v-if="released" class="note">
        Pages use the name, prefix and classes of the last release; the release page says what they would lose.
      </p>
      <label class="block"
        ><span class="note">Name of the family</span><input v-model="draft.family" class="field" maxlength="60" required
      /></label>
      <label class="block"
        ><span class="note">Prefix of its classes</span><input v-model="draft.prefix" class="field font-mono" maxlength="24" required
      /></label>
      <label class="block"
        ><span class="note">Base class</span><input v-model="draft.base" class="field font-mono" maxlength="40" required
      /></label>
      <label class="block"
        ><span class="note">A page names a drawing by</span
        ><select v-model="draft.selector" class="field">
          <option value="class">a class on its element</option>
          <option value="attribute">an attribute of its element</option>
        </select></label
      >
      <label class="block"
        ><span class="note">In a line of text it stands</span
        ><select v-model="draft.line" class="field">
          <option value="middle">in the middle of capitals</option>
          <option value="baseline">on the baseline</option>
        </select></label
      >
      <label class="block"
        ><span class="note">Font units an em; empty: as the drawings’ grid asks</span
        ><input
          class="field"
          type="number"
          min="16"
          max="16384"
          :value="draft.em ?? ''"
          @change="draft.em = ($event.target as HTMLInputElement).value === '' ? null : Number(($event.target as HTMLInputElement).value)"
      /></label>
      <label class="block"
        ><span class="note">Smallest size at which it is shown, px</span
        ><input v-model.number="draft.smallest" class="field" type="number" min="8" max="256" required
      /></label>
      <fieldset>
        <legend class="note">Files</legend>
        <div class="flex flex-wrap gap-4">
          <label v-for="f in FORMATS" :key="f" class="flex items-center gap-2"
            ><input v-model="draft.formats" type="checkbox" class="accent-action" :value="f" />{{ f.toUpperCase() }}</label
          >
        </div>
      </fieldset>
      <label class="block"><span class="note">Maker</span><input v-model="draft.maker" class="field" maxlength="200" /></label>
      <label class="block"
        ><span class="note">License, in words that stand in the file</span><input v-model="draft.license" class="field" maxlength="1000"
      /></label>
      <label class="block"
        ><span class="note">Address of the license</span><input v-model="draft.licenseUrl" class="field" type="url" maxlength="500"
      /></label>
      <p class="flex gap-3">
        <button class="press">Keep these</button><button type="button" class="press-quiet" @click="open = false">Leave them</button>
      </p>
    </form>
  </div>
</template>
