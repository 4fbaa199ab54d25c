<script setup lang="ts">
import { Star } from '@lucide/vue';
import type { FamilyDetail } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { call, routes, sentence } from '../../platform/api';
import FamilyAnswers from './FamilyAnswers.vue';
import LiveText from './LiveText.vue';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';
import { useTray } from '../library/tray';
import { count } from '../../platform/words';

const props = defineProps<{ familyId: string }>();
const library = useLibrary();
const session = useSession();
const tray = useTray();
const family = ref<FamilyDetail | null>(null);
const problem = ref('');
const name = ref('');
const note = ref('');
const labels = ref('');
const chosen = ref<string[]>([]);
const newName = ref('');
const renaming = ref<{ id: string; style: string } | null>(null);

watch(
  [() => props.familyId, () => library.families],
  async ([id]) => {
    try {
      const found = await call(routes.getFamily, { params: { familyId: id } });
      family.value = found;
      name.value = found.name;
      note.value = found.note;
      labels.value = found.labels.join(', ');
      chosen.value = chosen.value.filter((c) => found.faces.some((f) => f.id === c));
      problem.value = '';
    } catch (error) {
      problem.value = sentence(error);
    }
  },
  { immediate: true },
);
const byId = computed(() => new Map(family.value?.faces.map((f) => [f.id, f]) ?? []));
const repaired = computed(() => family.value?.faces.filter((f) => f.repairs.length > 0) ?? []);
const word = computed(() => {
  const lead = library.families.find((f) => f.id === props.familyId);
  return lead ? lead.name.split(/\s+/)[0]! : 'Hamburg';
});
const about = computed(() => library.families.find((f) => f.id === props.familyId) ?? null);
const ids = computed(() => [props.familyId]);

async function rename(): Promise<void> {
  const to = name.value.trim();
  if (to && to !== family.value!.name) await library.act({ act: 'rename-family', familyId: props.familyId, name: to });
}
async function saveLabels(): Promise<void> {
  const next = [
    ...new Set(
      labels.value
        .split(',')
        .map((l) => l.trim())
        .filter(Boolean),
    ),
  ];
  const now = family.value!.labels;
  await library.act({
    act: 'label',
    familyIds: ids.value,
    add: next.filter((l) => !now.includes(l)),
    remove: now.filter((l) => !next.includes(l)),
  });
}
async function split(): Promise<void> {
  if (await library.act({ act: 'split', faceIds: chosen.value, name: newName.value.trim() })) {
    chosen.value = [];
    newName.value = '';
  }
}
async function renameStyle(): Promise<void> {
  const r = renaming.value;
  if (r && r.style.trim() && (await library.act({ act: 'rename-style', faceId: r.id, style: r.style.trim() }))) renaming.value = null;
}
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4">
      <RouterLink class="link text-note" to="/library">Library</RouterLink>
      <p v-if="problem" class="mt-3 text-no">{{ problem }}</p>
      <p v-else-if="!family" class="mt-3 text-soft">Opening the family …</p>
      <template v-else>
        <h1 class="flex items-baseline gap-2 break-words">
          <Star v-if="family.favorite" :size="20" class="shrink-0 fill-current text-ask" aria-label="Favorite" />{{ family.name }}
        </h1>
        <p class="note">
          {{ count(family.faces.length, 'style') }}{{ family.archived ? ', archived' : ''
          }}{{ family.ownName ? ', put together or named by hand' : '' }}
        </p>

        <div v-if="family.table.variable.length > 0" class="mt-5">
          <h2>Variable</h2>
          <ul class="mt-1">
            <li v-for="id in family.table.variable" :key="id" class="flex items-baseline gap-4 border-b border-rule py-1">
              <input
                v-if="session.canEdit"
                v-model="chosen"
                type="checkbox"
                class="accent-action"
                :value="id"
                :aria-label="`Choose ${byId.get(id)!.style}`"
              />
              <RouterLink
                class="min-w-0 flex-1 overflow-hidden text-[32px] leading-[48px] whitespace-nowrap"
                :to="{ path: '/library/try', query: { face: id } }"
                ><LiveText v-if="library.faces.get(id)" :face="library.faces.get(id)!.face" :text="family.name"
              /></RouterLink>
              <span class="note">{{ byId.get(id)!.style }}</span>
            </li>
          </ul>
        </div>

        <div v-if="family.table.rows.length > 0" class="mt-5 overflow-x-auto" tabindex="0" role="region" aria-label="Table of styles">
          <table class="w-full border-collapse text-left">
            <caption class="sr-only">
              Styles by weight, and by width, optical size and slope
            </caption>
            <thead>
              <tr class="border-b border-rule-strong">
                <th scope="col" class="note py-1 pr-4 font-normal">Weight</th>
                <th v-for="c in family.table.columns" :key="c.label" scope="col" class="px-3 py-1 text-note font-semibold">
                  {{ c.label }}
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in family.table.rows" :key="row.weightClass" class="border-b border-rule align-top">
                <th scope="row" class="py-2 pr-4 font-normal whitespace-nowrap">
                  {{ row.label }} <span class="note">{{ row.weightClass }}</span>
                </th>
                <td v-for="(cell, i) in row.cells" :key="i" class="px-3 py-1">
                  <div v-for="id in cell" :key="id" class="flex items-baseline gap-2">
                    <input
                      v-if="session.canEdit"
                      v-model="chosen"
                      type="checkbox"
                      class="accent-action"
                      :value="id"
                      :aria-label="`Choose ${byId.get(id)!.style}`"
                    />
                    <div class="min-w-0">
                      <RouterLink class="block text-[26px] leading-9 whitespace-nowrap" :to="{ path: '/library', query: { face: id } }"
                        ><LiveText v-if="library.faces.get(id)" :face="library.faces.get(id)!.face" :text="word"
                      /></RouterLink>
                      <form v-if="renaming?.id === id" class="flex gap-1" @submit.prevent="renameStyle">
                        <input v-model="renaming.style" class="field min-h-0 w-32 py-0.5" maxlength="200" aria-label="Name of the style" />
                        <button type="submit" class="press-quiet min-h-0 px-2 py-0.5">Name</button>
                      </form>
                      <p v-else class="note">
                        {{ byId.get(id)!.style }} ·
                        {{
                          byId
                            .get(id)!
                            .files.map((f) => f.toUpperCase())
                            .join(', ')
                        }}
                        <button
                          v-if="session.canEdit"
                          type="button"
                          class="link ml-1"
                          :aria-label="`Rename ${byId.get(id)!.style}`"
                          @click="renaming = { id, style: byId.get(id)!.style }"
                        >
                          rename
                        </button>
                      </p>
                    </div>
                  </div>
                  <span v-if="cell.length === 0" class="note" aria-label="No such style">–</span>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <form v-if="chosen.length > 0" class="mt-4 flex flex-wrap items-end gap-3 border-t-2 border-ink pt-3" @submit.prevent="split">
          <label class="min-w-52 flex-1"
            ><span class="note">Make the {{ count(chosen.length, 'chosen style') }} a family of their own, named</span>
            <input v-model="newName" class="field" maxlength="200"
          /></label>
          <button type="submit" class="press" :disabled="!newName.trim() || chosen.length === family.faces.length">Split them off</button>
          <button type="button" class="press-quiet" @click="chosen.forEach((id) => tray.has(id) || tray.toggle(id))">Pick up</button>
        </form>
        <p v-if="chosen.length > 0 && chosen.length === family.faces.length" class="note mt-1">
          Leave at least one style; to name the whole family otherwise, rename it.
        </p>

        <section v-if="family.folded.length > 0" class="mt-6">
          <h2>Behind other faces</h2>
          <ul class="mt-1">
            <li v-for="f in family.folded" :key="f.id">
              {{ f.name }}{{ f.version ? `, ${f.version}` : '' }}
              <RouterLink class="link text-note" :to="{ path: '/library/versions', query: { older: f.id, newer: f.into } }"
                >What changed</RouterLink
              >
              <button
                v-if="session.canEdit"
                type="button"
                class="link ml-3 text-note"
                @click="library.act({ act: 'unfold', faceIds: [f.id] })"
              >
                Let it stand on its own
              </button>
            </li>
          </ul>
        </section>
        <section v-if="repaired.length > 0" class="mt-6">
          <h2>Read otherwise than the files say</h2>
          <p class="note">The files stay as they are.</p>
          <dl class="mt-2">
            <template v-for="f in repaired" :key="f.id">
              <dt class="mt-2 font-semibold">{{ f.style }}</dt>
              <dd v-for="r in f.repairs" :key="r.field + r.found" class="text-note">
                The {{ r.field }} is {{ r.used }}, where the file says {{ r.found }}. {{ r.reason }}
              </dd>
            </template>
          </dl>
        </section>
      </template>
    </div>
    <aside
      aria-label="About the family"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-6 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <template v-if="family && about">
        <FamilyAnswers :family="about" class="mb-6" />
        <h2>Ours to say</h2>
        <form class="mt-2" @submit.prevent="rename">
          <label class="note block">Name<input v-model="name" class="field mt-0.5" maxlength="200" :disabled="!session.canEdit" /></label>
          <button v-if="session.canEdit && name.trim() && name.trim() !== family.name" type="submit" class="press mt-2">Rename</button>
        </form>
        <p v-if="family.taken.length > 0" class="note mt-2">Took in {{ family.taken.map((t) => t.name).join(', ') }}.</p>
        <form class="mt-4" @submit.prevent="saveLabels">
          <label class="note block"
            >Labels, with commas between<input v-model="labels" class="field mt-0.5" maxlength="400" :disabled="!session.canEdit"
          /></label>
          <button v-if="session.canEdit && labels !== family.labels.join(', ')" type="submit" class="press-quiet mt-2">
            Keep the labels
          </button>
        </form>
        <form class="mt-4" @submit.prevent="library.act({ act: 'note', familyIds: ids, note })">
          <label class="note block"
            >Note<textarea v-model="note" class="field mt-0.5" rows="5" maxlength="4000" :disabled="!session.canEdit"></textarea>
          </label>
          <button v-if="session.canEdit && note !== family.note" type="submit" class="press-quiet mt-2">Keep the note</button>
        </form>
        <div v-if="session.canEdit" class="mt-5 flex flex-wrap gap-2">
          <button type="button" class="press-quiet" @click="library.act({ act: 'favorite', familyIds: ids, on: !family.favorite })">
            {{ family.favorite ? 'No longer a favorite' : 'Make it a favorite' }}
          </button>
          <button type="button" class="press-quiet" @click="library.act({ act: 'archive', familyIds: ids, on: !family.archived })">
            {{ family.archived ? 'Take it out of the archive' : 'Archive it' }}
          </button>
        </div>
      </template>
    </aside>
  </div>
</template>
