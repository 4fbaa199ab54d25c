<script setup lang="ts">
import type { Install, Place } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { addressOf, ApiProblem, call, routes, sentence } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import { count, size, when } from '../../platform/words';
import { useSession } from '../accounts/session';
import LiveText from '../faces/LiveText.vue';
import { useLibrary } from '../library/library';
import { useTray } from '../library/tray';
import { useLeaving } from './leaving';
import ByHand from './ByHand.vue';
import JoinedComputer from './JoinedComputer.vue';
import { useLooking } from './looking';
import PlaceSettings from './PlaceSettings.vue';
import { standingOf } from './standing';

/** One place and its shelf: what lies there, how it stands, and what may be done with it. */
const props = defineProps<{ placeId: string }>();
const library = useLibrary();
const session = useSession();
const voice = useVoice();
const router = useRouter();
const tray = useTray();
const leaving = useLeaving();
const place = computed(() => library.places.find((p) => p.id === props.placeId) ?? null);
const search = ref('');
const installs = computed(() => {
  const q = search.value.trim().toLowerCase();
  return place.value?.installs.filter((i) => `${i.face} ${i.address}`.toLowerCase().includes(q)) ?? [];
});
const ended = (i: Install): boolean => library.faces.get(i.faceId)?.family.verdicts[place.value!.use] === 'no';
const replaceable = (i: Install): boolean => i.outdated || i.seen === 'absent' || i.seen === 'other';
/** A computer that fetches its faces itself. */
const fetches = computed(() => place.value?.fetches ?? false);
const computer = ref<InstanceType<typeof JoinedComputer> | null>(null);
const problem = ref('');
const mayEdit = computed(() => session.isOwner);

const editing = ref<(Pick<Place, 'name' | 'address' | 'user' | 'hostKey' | 'page' | 'version'> & { key: string }) | null>(null);
function edit(): void {
  const { name, address, user, hostKey, page, version } = place.value!;
  editing.value = { name, address, user, hostKey, page, version, key: '' };
}
async function saveEdit(): Promise<void> {
  if (!editing.value) return;
  problem.value = '';
  try {
    const { changed } = await call(routes.changePlace, { params: { placeId: props.placeId }, body: editing.value });
    editing.value = null;
    library.takeOver(changed);
    await library.loadPlaces();
  } catch (error) {
    problem.value = sentence(error);
    if (error instanceof ApiProblem && error.code === 'stale') {
      await library.loadPlaces();
      if (place.value && editing.value) {
        problem.value += ` It is now called “${place.value.name}”, at ${place.value.address}.`;
        editing.value.version = place.value.version;
      }
    }
  }
}
async function forget(): Promise<void> {
  try {
    await call(routes.removePlace, { params: { placeId: props.placeId } });
    await library.loadPlaces();
    await router.push('/places');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const { looking, look } = useLooking(() => props.placeId);
async function assign(i: Install, role: string): Promise<void> {
  if (role === '') return;
  try {
    const { changed } = await call(routes.assignRole, { params: { installId: i.id }, body: { role } });
    library.takeOver(changed);
    await library.loadPlaces();
    voice.say(`${i.face} is the face for ${place.value?.roles.find((r) => r.id === role)?.name ?? role} at ${i.place}.`);
  } catch (error) {
    voice.say(sentence(error), 'fault');
    await library.loadPlaces();
  }
}
/** The print shop's list: several at once, kinds, and advice. */
const isList = computed(() => place.value?.isList ?? false);
const KINDS = ['plain', 'with feet', 'handwriting', 'display'] as const;
const picked = ref<string[]>([]);
const advice = ref<{ message: string; faceIds: string[] }[]>([]);
watch(
  () => [props.placeId, place.value?.installs.length],
  async () => {
    advice.value = [];
    picked.value = [];
    if (!place.value || place.value.installs.length === 0) return;
    advice.value = await call(routes.placeAdvice, { params: { placeId: props.placeId } }).catch(() => []);
  },
  { immediate: true },
);
async function arrange(what: { role?: string; kind?: (typeof KINDS)[number] }): Promise<void> {
  try {
    const { changed, refused } = await call(routes.arrangeInstalls, {
      params: { placeId: props.placeId },
      body: { installIds: picked.value, ...what },
    });
    library.takeOver(changed);
    await library.loadPlaces();
    voice.say(refused[0] ?? `${count(picked.value.length, 'face')} moved.`, refused.length > 0 ? 'fault' : 'told');
    picked.value = [];
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
/** Moves a face earlier (-1) or later (1) in the list that customers choose from. */
async function move(i: Install, by: -1 | 1): Promise<void> {
  const ids = place.value!.installs.map((other) => other.id);
  const at = ids.indexOf(i.id);
  ids.splice(at, 1);
  ids.splice(at + by, 0, i.id);
  try {
    const { changed, refused } = await call(routes.arrangeInstalls, {
      params: { placeId: props.placeId },
      body: { installIds: ids.slice(0, 200), ordered: true },
    });
    library.takeOver(changed);
    await library.loadPlaces();
    voice.say(refused[0] ?? `${i.face} is number ${at + by + 1} of ${ids.length}.`, refused.length > 0 ? 'fault' : 'told');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const check = computed(() => ({
  path: '/places/check',
  query: { places: props.placeId, ...(tray.faces.length > 0 ? { faces: tray.faces.map((f) => f.face.id).join(',') } : {}) },
}));
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4">
      <p v-if="library.state === 'ready' && !place" class="mt-5">
        There is no such place. <RouterLink class="link" to="/places">All places</RouterLink>
      </p>
      <template v-if="place">
        <p class="note"><RouterLink class="link" to="/places">Places</RouterLink></p>
        <h1>{{ place.name }}</h1>
        <p class="mt-1 text-soft">{{ place.profile }}{{ place.byHand ? '; a person puts files there' : '' }}.</p>
        <div class="mt-4 flex flex-wrap gap-3">
          <RouterLink class="press" :to="check">{{
            tray.faces.length > 0 ? `Check ${count(tray.faces.length, 'face')} of the tray` : 'Put a face here'
          }}</RouterLink>
          <button
            v-if="session.canEdit && !place.byHand && !fetches && place.installs.length > 0"
            type="button"
            class="press-quiet"
            :disabled="looking !== ''"
            @click="look"
          >
            {{ looking || 'Look whether all is there' }}
          </button>
          <RouterLink
            v-if="place.installs.length > 0 && !fetches"
            class="press-quiet"
            :to="{ path: '/places/withdraw', query: { place: place.id } }"
            >Take faces off</RouterLink
          >
          <a
            v-if="/^https?:/.test(place.page || place.address)"
            class="press-quiet"
            :href="place.page || place.address"
            target="_blank"
            rel="noopener"
            >Look at it</a
          >
        </div>
        <ByHand v-if="place.byHand" class="mt-5" :place="place" />
        <JoinedComputer v-else-if="fetches" ref="computer" class="mt-5" :place="place" />
        <label v-if="place.installs.length > 8" class="mt-4 block max-w-xs"
          ><span class="note">Find on this shelf</span><input v-model="search" type="search" class="field"
        /></label>
        <p v-if="place.installs.length === 0" class="mt-6 text-soft">
          No face of yours is there. Choose one in the library and check it for this place.
          <button v-if="mayEdit" type="button" class="link" @click="forget">Forget this place</button>
        </p>
        <div v-if="isList && picked.length > 0 && session.canEdit" class="mt-4 flex flex-wrap items-center gap-2 border-y border-rule py-2">
          <span class="note">{{ picked.length }} chosen</span>
          <button type="button" class="press-quiet" @click="arrange({ role: 'offered' })">Offer to customers</button>
          <button type="button" class="press-quiet" @click="arrange({ role: 'withheld' })">Withhold</button>
          <label class="flex items-center gap-2"
            ><span class="note whitespace-nowrap">Move to</span
            ><select class="field" @change="arrange({ kind: ($event.target as HTMLSelectElement).value as 'plain' })">
              <option value="" disabled selected>a kind</option>
              <option v-for="k in KINDS" :key="k" :value="k">{{ k }}</option>
            </select></label
          >
          <button type="button" class="link" @click="picked = []">Choose none</button>
        </div>
        <ul v-if="place.installs.length > 0" class="mt-5 border-t border-rule" :aria-label="count(place.installs.length, 'face')">
          <li
            v-for="i in installs"
            :key="i.id"
            class="grid grid-cols-[minmax(0,1fr)_minmax(0,15rem)_auto] items-center gap-x-6 border-b border-rule py-3 max-sm:grid-cols-1"
          >
            <div class="min-w-0">
              <label v-if="isList && session.canEdit" class="float-left mr-3 flex min-h-10 items-center"
                ><input v-model="picked" type="checkbox" class="accent-action" :value="i.id" /><span class="sr-only"
                  >Choose {{ i.face }}</span
                ></label
              >
              <RouterLink :to="{ path: '/library', query: { face: i.faceId } }" class="block truncate text-[30px] leading-10">
                <LiveText v-if="library.faces.get(i.faceId)" :face="library.faces.get(i.faceId)!.face" :text="i.face" />
              </RouterLink>
              <a v-if="i.link" class="code block min-h-6 truncate leading-6 text-soft" :href="i.link" target="_blank" rel="noopener">{{
                i.address
              }}</a>
              <span v-else class="code block min-h-6 truncate leading-6 text-soft">{{ i.address }}</span>
            </div>
            <div class="note">
              <p :class="standingOf(i, ended(i)).tone">
                {{ standingOf(i, ended(i)).word }}{{ i.seenAt && !i.byHand ? `, ${when(i.seenAt)}` : '' }}
              </p>
              <p>{{ i.face }}</p>
              <p>{{ i.format.toUpperCase() }}, {{ size(i.bytes) }}, {{ i.version.split(';')[0] }}</p>
              <p>{{ i.installedBy }}, {{ when(i.installedAt) }}</p>
              <label v-if="place.roles.length > 0 && session.canEdit && !place.byHand" class="mt-1 block"
                ><span class="sr-only">What {{ i.face }} is there</span
                ><select class="field" :value="i.role ?? ''" @change="assign(i, ($event.target as HTMLSelectElement).value)">
                  <option value="" disabled>No role</option>
                  <option v-for="r in place.roles" :key="r.id" :value="r.id">{{ r.name }}</option>
                </select></label
              >
              <p v-else-if="i.role">Role: {{ i.role }}</p>
              <p v-if="session.canEdit && !i.byHand && !fetches" class="mt-1 flex gap-3">
                <a class="link" :href="addressOf(routes.fetchInstall, { params: { installId: i.id } })" download>Fetch it back</a
                ><a
                  v-if="isList"
                  class="link"
                  :href="addressOf(routes.listPicture, { params: { faceId: i.faceId }, query: { as: 'svg' } })"
                  download
                  >Picture</a
                >
              </p>
            </div>
            <div v-if="session.canEdit && !i.byHand" class="flex flex-col items-stretch gap-2">
              <div v-if="isList && search === '' && place.installs.length > 1" class="flex gap-2">
                <button type="button" class="press-quiet flex-1" :disabled="i === place.installs[0]" @click="move(i, -1)">
                  Earlier<span class="sr-only">: {{ i.face }}</span>
                </button>
                <button type="button" class="press-quiet flex-1" :disabled="i === place.installs.at(-1)" @click="move(i, 1)">
                  Later<span class="sr-only">: {{ i.face }}</span>
                </button>
              </div>
              <RouterLink v-if="replaceable(i)" class="press" :to="{ path: '/places/check', query: { faces: i.faceId, places: place.id } }"
                >Replace it<span class="sr-only">: {{ i.face }}</span></RouterLink
              >
              <button
                type="button"
                class="press-quiet"
                @click="fetches ? computer?.withdraw(i.id) : leaving.due.has(i.id) ? leaving.keep(i.id) : leaving.takeOff(i)"
              >
                <span>{{ leaving.due.has(i.id) ? 'Leave it there' : 'Take it off' }}</span><span class="sr-only"
                  >, {{ i.face }} from {{ place.name }}</span
                >
              </button>
            </div>
          </li>
        </ul>
      </template>
    </div>
    <aside
      v-if="place"
      aria-label="What this place takes"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-6 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <h2>What it takes</h2>
      <ul class="mt-2 flex flex-col gap-1">
        <li>
          {{ place.formats.map((f) => f.toUpperCase()).join(', ') }}; {{ place.rules.accepts.prefer.toUpperCase() }} if there is a choice
        </li>
        <li>{{ size(place.maxBytes) }} a file at most</li>
        <li v-if="place.rules.limits.perUpload">{{ place.rules.limits.perUpload }} files in one upload</li>
        <li v-if="place.rules.limits.faces">{{ place.rules.limits.faces }} faces in all; {{ place.installs.length }} of ours are there</li>
        <li>Variable faces {{ place.rules.accepts.variable }}, colored ones {{ place.rules.accepts.color }}</li>
        <li v-if="place.rules.embedding.restricted === 'refused'">Files that forbid embedding are refused</li>
        <li v-if="place.rules.families">{{ place.rules.families }} families at most, for calm and for speed</li>
        <li v-if="place.ownRules" class="text-soft">These are rules of your own.</li>
      </ul>
      <p v-if="mayEdit" class="mt-3"><RouterLink class="link" :to="`/places/${place.id}/rules`">Change the rules</RouterLink></p>
      <template v-if="advice.length > 0">
        <h2 class="mt-6">Worth a second look</h2>
        <p v-for="a in advice" :key="a.message" class="mt-2 border-l-4 border-ask bg-ask-pale px-3 py-2">{{ a.message }}</p>
      </template>
      <h2 class="mt-6">The connection</h2>
      <p class="code mt-2 break-all">{{ place.address }}</p>
      <button v-if="mayEdit && !editing" type="button" class="link mt-2" @click="edit">Correct it</button>
      <form v-if="editing" class="mt-3" @submit.prevent="saveEdit">
        <PlaceSettings v-model="editing" class="!grid-cols-1" :settings="place.settings" keep />
        <p v-if="problem" role="alert" class="mt-2 text-no">{{ problem }}</p>
        <div class="mt-3 flex gap-3">
          <button class="press">Keep it</button><button type="button" class="press-quiet" @click="editing = null">Leave it</button>
        </div>
      </form>
    </aside>
  </div>
</template>
