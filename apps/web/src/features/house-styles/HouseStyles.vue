<script setup lang="ts">
import { contrast, HOUSE_ROLES, routes, type HouseStyle } from '@orderly-glyph/schema';
import { computed, onMounted, ref } from 'vue';
import { addressOf, ApiProblem, call, sentence } from '../../platform/api';
import { useAddress } from '../../platform/address';
import { useVoice } from '../../platform/voice';
import { useSession } from '../accounts/session';
import LiveText from '../faces/LiveText.vue';
import { useLibrary } from '../library/library';
import { useTray } from '../library/tray';

/** The faces of a brand in their roles: seen, checked, given to places, and on one page. */
type Role = (typeof HOUSE_ROLES)[number];
const library = useLibrary();
const session = useSession();
const voice = useVoice();
const tray = useTray();
const { param, put } = useAddress();
const styles = ref<HouseStyle[]>([]);
const state = ref<'loading' | 'ready' | 'failed'>('loading');
const problem = ref('');
const SAMPLES: Record<Role, string> = { headline: 'Sow, water, wait', text: '', accent: 'Opened each spring', figures: '0123456789 £3.20' };
const SIZES: Record<Role, number> = { headline: 36, text: 11, accent: 18, figures: 14 };
const NAMES: Record<Role, string> = { headline: 'Headline', text: 'Text', accent: 'Accent', figures: 'Figures' };
const sampleOf = (role: Role): string =>
  SAMPLES[role] || library.readyTexts[0]?.text || 'Cover seed to twice its own depth. Water before sowing, not after.';

const open = computed(() => styles.value.find((s) => s.id === param('style')) ?? null);
const draft = ref<Pick<HouseStyle, 'name' | 'roles'> | null>(null);
const shown = computed(() => draft.value ?? open.value);

async function load(): Promise<void> {
  try {
    styles.value = await call(routes.listHouseStyles, {});
    state.value = 'ready';
    if (!open.value && styles.value[0]) put({ style: styles.value[0].id });
  } catch (error) {
    problem.value = sentence(error);
    state.value = 'failed';
  }
}
onMounted(load);

const editingId = ref<string | null>(null);
function begin(from: HouseStyle | null): void {
  problem.value = '';
  editingId.value = from?.id ?? null;
  draft.value = from
    ? (JSON.parse(JSON.stringify({ name: from.name, roles: from.roles })) as Pick<HouseStyle, 'name' | 'roles'>)
    : { name: 'Our brand', roles: { headline: null, text: null, accent: null, figures: null } };
}
const choices = computed(() => {
  const lead = library.families.filter((f) => !f.archived).map((f) => ({ id: f.leadFaceId, name: f.name }));
  const held = tray.faces.map(({ face, family }) => ({ id: face.id, name: `${family.name} ${face.style}` }));
  return [...held.filter((h) => !lead.some((l) => l.id === h.id)), ...lead];
});
function setFace(role: Role, faceId: string): void {
  if (!draft.value) return;
  const now = draft.value.roles[role];
  draft.value.roles[role] = faceId ? { size: SIZES[role], ink: '#1b1916', paper: '#fbfaf6', ...now, faceId } : null;
}
async function save(): Promise<void> {
  if (!draft.value) return;
  problem.value = '';
  try {
    const before = styles.value.find((s) => s.id === editingId.value);
    const kept = before
      ? await call(routes.changeHouseStyle, { params: { styleId: before.id }, body: { ...draft.value, version: before.version } })
      : await call(routes.createHouseStyle, { body: draft.value });
    draft.value = null;
    await load();
    put({ style: kept.id });
  } catch (error) {
    problem.value = sentence(error);
    if (error instanceof ApiProblem && error.code === 'stale') await load();
  }
}
async function forget(style: HouseStyle): Promise<void> {
  try {
    await call(routes.removeHouseStyle, { params: { styleId: style.id } });
    put({ style: undefined });
    await load();
    voice.say(`“${style.name}” is forgotten; the faces stay where they are.`, 'told', {
      label: 'Undo',
      run: () => void call(routes.createHouseStyle, { body: { name: style.name, roles: style.roles } }).then(load),
    });
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const places = computed(() => library.places.filter((p) => !p.byHand && p.roles.length > 0));
const lacking = ref<{ placeId: string; place: string; faces: string[] } | null>(null);
async function apply(placeId: string, name: string): Promise<void> {
  lacking.value = null;
  try {
    const done = await call(routes.applyHouseStyle, { params: { styleId: open.value!.id, placeId } });
    library.takeOver(done.changed);
    await library.loadPlaces();
    voice.say(done.set.length > 0 ? `${name}: ${done.set.join(', ')} set.` : `Nothing of it lies at ${name} yet.`);
    if (done.missing.length > 0) lacking.value = { placeId, place: name, faces: done.missing };
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const faceOf = (faceId: string | undefined) => (faceId ? library.faces.get(faceId) : undefined);
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4">
      <p class="note"><RouterLink class="link" to="/places">Places</RouterLink></p>
      <div class="flex flex-wrap items-center justify-between gap-3">
        <h1>{{ draft ? 'A house style' : (open?.name ?? 'House styles') }}</h1>
        <div v-if="session.canEdit && !draft" class="flex gap-3">
          <button v-if="open" type="button" class="press-quiet" @click="begin(open)">Change it</button>
          <button type="button" class="press-quiet" @click="begin(null)">Make another</button>
        </div>
      </div>
      <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
      <p v-if="state === 'ready' && styles.length === 0 && !draft" class="mt-4 text-soft">
        There is no house style yet. It says which face your brand uses for headlines, text, accents and figures, in which size and colors.
        <button v-if="session.canEdit" type="button" class="press mt-3 block" @click="begin(null)">Make the first one</button>
      </p>
      <form v-if="draft" class="mt-4 flex flex-col gap-5" @submit.prevent="save">
        <label class="block max-w-sm">Name<input v-model="draft.name" class="field" required maxlength="120" /></label>
        <fieldset v-for="role in HOUSE_ROLES" :key="role" class="border-t border-rule pt-3">
          <legend class="font-semibold">{{ NAMES[role] }}</legend>
          <div class="grid items-end gap-4 sm:grid-cols-[minmax(0,2fr)_6rem_5rem_5rem]">
            <label
              >Face<select
                class="field"
                :value="draft.roles[role]?.faceId ?? ''"
                @change="setFace(role, ($event.target as HTMLSelectElement).value)"
              >
                <option value="">None</option>
                <option v-for="c in choices" :key="c.id" :value="c.id">{{ c.name }}</option>
              </select></label
            >
            <template v-if="draft.roles[role]">
              <label
                >Points<input v-model.number="draft.roles[role]!.size" class="field" type="number" min="4" max="400" step="0.5" required
              /></label>
              <label>Ink<input v-model="draft.roles[role]!.ink" class="field h-10 p-1" type="color" /></label>
              <label>Paper<input v-model="draft.roles[role]!.paper" class="field h-10 p-1" type="color" /></label>
            </template>
          </div>
        </fieldset>
        <div class="flex gap-3">
          <button class="press">Keep it</button><button type="button" class="press-quiet" @click="draft = null">Leave it</button>
        </div>
      </form>
      <ul v-if="shown" class="mt-5 border-t border-rule">
        <template v-for="role in HOUSE_ROLES" :key="role">
          <li v-if="shown.roles[role]" class="border-b border-rule py-4">
            <p class="note">
              {{ NAMES[role] }}: {{ faceOf(shown.roles[role]?.faceId)?.family.name }} {{ faceOf(shown.roles[role]?.faceId)?.face.style }},
              {{ shown.roles[role]!.size }} pt, contrast {{ contrast(shown.roles[role]!.ink, shown.roles[role]!.paper).toFixed(1) }} to 1
            </p>
            <p
              class="mt-1 overflow-hidden px-4 py-3"
              :style="{
                background: shown.roles[role]!.paper,
                color: shown.roles[role]!.ink,
                fontSize: `${shown.roles[role]!.size * 1.333}px`,
                lineHeight: 1.35,
              }"
            >
              <LiveText v-if="faceOf(shown.roles[role]?.faceId)" :face="faceOf(shown.roles[role]?.faceId)!.face" :text="sampleOf(role)" />
            </p>
          </li>
        </template>
      </ul>
    </div>
    <aside
      aria-label="What is to be said of it"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-6 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <template v-if="styles.length > 1">
        <h2>House styles</h2>
        <ul class="mt-2 mb-6">
          <li v-for="s in styles" :key="s.id">
            <RouterLink class="link" :to="{ query: { style: s.id } }" :aria-current="s.id === open?.id ? 'true' : undefined">{{
              s.name
            }}</RouterLink>
          </li>
        </ul>
      </template>
      <template v-if="open && !draft">
        <h2>Worth a second look</h2>
        <p v-if="open.doubts.length === 0" class="mt-2 border-l-4 border-yes bg-yes-pale px-4 py-2">
          Contrast, sizes and letters are in order.
        </p>
        <p v-for="d in open.doubts" :key="d.message" class="mt-2 border-l-4 border-ask bg-ask-pale px-4 py-2">
          <span v-if="d.role" class="font-semibold">{{ NAMES[d.role] }}. </span>{{ d.message }}
        </p>
        <h2 class="mt-6">Set a place by it</h2>
        <p class="note mt-1">Each role of the place is given to the face of this style that lies there.</p>
        <p v-if="places.length === 0" class="mt-2 text-soft">No place here has roles.</p>
        <ul v-else class="mt-2 flex flex-col gap-2">
          <li v-for="p in places" :key="p.id">
            <button v-if="session.canEdit" type="button" class="press-quiet w-full justify-center" @click="apply(p.id, p.name)">
              Set {{ p.name }}
            </button>
          </li>
        </ul>
        <p v-if="lacking" class="mt-3 border-l-4 border-ask bg-ask-pale px-4 py-2">
          Not all of it lies at {{ lacking.place }} yet.
          <RouterLink class="link" :to="{ path: '/places/check', query: { places: lacking.placeId, faces: lacking.faces.join(',') } }"
            >Put the rest there</RouterLink
          >
        </p>
        <h2 class="mt-6">On paper</h2>
        <p class="mt-2">
          <a class="press-quiet" :href="addressOf(routes.houseSheet, { params: { styleId: open.id } })" download>Brand sheet as PDF</a>
        </p>
        <p class="note mt-1">Faces are embedded where license and file allow it, and drawn as outlines elsewhere.</p>
        <button v-if="session.canEdit" type="button" class="link mt-6" @click="forget(open)">Forget this house style</button>
      </template>
    </aside>
  </div>
</template>
