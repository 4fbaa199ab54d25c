<script setup lang="ts">
import { type ConversionPlan, type Converted, type KeptRecipe, type Wish } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import FoundryRooms from '../../platform/FoundryRooms.vue';
import { addressOf, call, routes, sentence } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import { count, size } from '../../platform/words';
import { useSession } from '../accounts/session';
import LiveText from '../faces/LiveText.vue';
import { useLibrary } from '../library/library';
import SentencePart from '../library/SentencePart.vue';
import { useTray } from '../library/tray';
import VerdictMark from '../licenses/VerdictMark.vue';
import GlyphDifference from './GlyphDifference.vue';
import SizeChart from './SizeChart.vue';

/** The converting bench: a recipe as a sentence, what it does to each face and whether that is allowed, then the queue. */
const { param, several, put } = useAddress();
const library = useLibrary();
const tray = useTray();
const session = useSession();
const voice = useVoice();

const FORMATS = { woff2: 'WOFF2', woff: 'WOFF', ttf: 'TTF', otf: 'OTF' };
const WITH = {
  '': 'every character',
  own: 'what our languages need',
  language: 'what one language needs',
  text: 'the words below',
  ranges: 'the ranges below',
};
const FEATURES = { '': 'all features', keep: 'only the features below', drop: 'all features but those below' };
const AXES = {
  '': 'axes as they are',
  usual: 'axes at their usual place',
  named: 'axes at the place below',
  part: 'a part of the axes, as below',
};
const COLOR = { '': 'color as it is', plain: 'color taken out' };

const FILES = { '': 'one file', split: 'a file for each script and language' };
const FAULTS = { '': 'faults as they are', mended: 'faults mended' };
const NAMES = { '': 'its own names', other: 'the names below' };
const OVERLAPS = { '': 'outlines as they are', united: 'overlaps made one' };

/** Every part of the sentence stands in the address, so that back and reload find it again. */
const part = (name: string, fallback = '') =>
  computed({ get: () => param(name) || fallback, set: (v: string) => put({ [name]: v === fallback ? undefined : v }) });
const to = part('to', 'woff2');
const kept = part('with');
const language = part('language', 'en');
const words = part('words');
const ranges = part('ranges');
const features = part('features');
const tags = part('tags');
const axes = part('axes');
const at = part('at');
const overlaps = part('overlaps');
const files = part('files');
const color = part('color');
const faults = part('faults');
const naming = part('names');
const family = part('family');
const style = part('style');
const version = part('version');
const license = part('license');
const tolerance = part('within', '0.5');

const faceIds = computed(() => (param('faces') ? several('faces') : tray.faces.map((f) => f.face.id)));
const known = computed(() => faceIds.value.flatMap((id) => library.faces.get(id) ?? []));
const languages = computed(() => Object.fromEntries([...library.languageNames].sort((a, b) => a[1].localeCompare(b[1], 'en'))));
const outlinesMayChange = computed(() => to.value === 'ttf' || to.value === 'otf');

/** Files go by what languages need. */
const maySplit = computed(() => kept.value === 'own' || kept.value === 'language');

const wish = computed<Wish>(() => ({
  to: to.value as Wish['to'],
  languages: kept.value === 'own' ? [...library.ownLanguages] : kept.value === 'language' ? [language.value] : [],
  text: kept.value === 'text' ? words.value : '',
  ranges: kept.value === 'ranges' ? ranges.value : '',
  keep: features.value === 'keep' ? tags.value : null,
  drop: features.value === 'drop' ? tags.value : null,
  at: axes.value === 'usual' ? '' : axes.value === 'named' ? at.value : null,
  tolerance: Number(tolerance.value) || 0.5,
  axes: axes.value === 'part' ? at.value : null,
  plain: color.value === 'plain',
  unite: overlaps.value === 'united',
  split: maySplit.value && files.value === 'split',
  mend: faults.value === 'mended',
  names:
    naming.value === 'other'
      ? {
          ...(family.value ? { family: family.value } : {}),
          ...(style.value ? { style: style.value } : {}),
          ...(version.value && Number.isFinite(Number(version.value)) ? { version: Number(version.value) } : {}),
          ...(license.value ? { license: license.value } : {}),
        }
      : {},
}));

const plans = ref<ConversionPlan[] | null>(null);
const problem = ref('');
type State = { state: 'working' } | { state: 'made'; made: Converted[] } | { state: 'refused'; why: string };
const states = ref<Record<string, State>>({});
const busy = ref(false);
const stopping = ref(false);
let gone = false;
onBeforeUnmount(() => (gone = true));

let turn = 0;
let timer: ReturnType<typeof setTimeout> | undefined;
watch(
  [() => faceIds.value.join(','), () => JSON.stringify(wish.value)],
  () => {
    const mine = ++turn;
    clearTimeout(timer);
    states.value = {};
    problem.value = '';
    if (faceIds.value.length === 0) {
      plans.value = null;
      return;
    }
    // Words are asked about once they are typed.
    timer = setTimeout(
      () =>
        void call(routes.planConversion, { body: { faceIds: faceIds.value, wish: wish.value } })
          .then((found) => {
            if (mine === turn) plans.value = found;
          })
          .catch((error: unknown) => {
            if (mine !== turn) return;
            plans.value = null;
            problem.value = sentence(error);
          }),
      250,
    );
  },
  { immediate: true },
);

const goes = (p: ConversionPlan): boolean => p.stop === null && p.verdict.answer === 'yes';
const going = computed(() => plans.value?.filter(goes) ?? []);
const staying = computed(() => plans.value?.filter((p) => !goes(p)) ?? []);
const made = computed(() => Object.values(states.value).flatMap((s) => (s.state === 'made' ? s.made : [])));
const ended = computed(() => Object.values(states.value).filter((s) => s.state !== 'working').length);
/** Faces that may be converted and are not yet. */
const left = computed(() => going.value.filter((p) => states.value[p.faceId]?.state !== 'made').length);
const stateOf = (p: ConversionPlan): State | undefined => states.value[p.faceId];
const smaller = (m: Converted): string => {
  const part = Math.round((100 * m.bytes) / m.sourceBytes);
  return `${size(m.bytes)}, ${part}% of the ${size(m.sourceBytes)} it came with`;
};
const wishText = computed(() => JSON.stringify(wish.value));
const fileAddress = ({ faceId, part }: Converted): string =>
  addressOf(routes.getConversion, { params: { faceId }, query: { wish: wishText.value, ...(part ? { part } : {}) } });
const shown = ref('');
const sizes = computed(() =>
  going.value.flatMap((p) => {
    const own = made.value.filter((m) => m.faceId === p.faceId);
    return own.length === 0 ? [] : [{ name: p.face, before: own[0]!.sourceBytes, after: own.reduce((sum, m) => sum + m.bytes, 0) }];
  }),
);
/** What a page in each language loads of all faces that are made in several files. */
const perLanguage = computed(() => {
  const out = new Map<string, number>();
  // A language whose letters the faces lack loads nothing of them worth telling.
  const lettered = new Set(made.value.filter((m) => !m.part.startsWith('common')).flatMap((m) => m.languages));
  for (const m of made.value) for (const tag of m.languages) if (lettered.has(tag)) out.set(tag, (out.get(tag) ?? 0) + m.bytes);
  return [...out]
    .map(([tag, bytes]) => ({ name: library.languageNames.get(tag) ?? tag, bytes }))
    .sort((a, b) => a.name.localeCompare(b.name, 'en'));
});

/** Recipes under a name: what stands in the address, without the faces. */
const route = useRoute();
const router = useRouter();
const recipes = ref<KeptRecipe[]>([]);
const recipeName = ref('');
const loadRecipes = async (): Promise<void> => {
  recipes.value = await call(routes.getRecipes, {}).catch(() => []);
};
onMounted(() => void loadRecipes());
const address = computed(() =>
  Object.fromEntries(Object.entries(route.query).flatMap(([k, v]) => (k !== 'faces' && typeof v === 'string' ? [[k, v]] : []))),
);
const sameAddress = (a: Record<string, string>, b: Record<string, string>): boolean =>
  JSON.stringify(Object.entries(a).sort()) === JSON.stringify(Object.entries(b).sort());
/** In one order of the parts, whoever wrote them down. */
const inOrder = (value: unknown): string =>
  JSON.stringify(value, (_, v: unknown) =>
    v && typeof v === 'object' && !Array.isArray(v) ? Object.fromEntries(Object.entries(v).sort()) : v,
  );
const current = computed(
  () => recipes.value.find((r) => sameAddress(r.address, address.value) && inOrder(r.wish) === inOrder(wish.value)) ?? null,
);
const useRecipe = (r: KeptRecipe): void =>
  void router.push({ query: { ...(param('faces') ? { faces: param('faces') } : {}), ...r.address } });
async function keepRecipe(): Promise<void> {
  try {
    const { id } = await call(routes.keepRecipe, { body: { name: recipeName.value.trim(), wish: wish.value, address: address.value } });
    // What is made by it already is remembered with it; nothing is made twice.
    for (const p of going.value.filter((x) => stateOf(x)?.state === 'made'))
      await call(routes.convertFace, { params: { faceId: p.faceId }, body: { wish: wish.value, recipeId: id } });
    voice.say(`The recipe is kept as “${recipeName.value.trim()}”.`);
    recipeName.value = '';
    await loadRecipes();
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
async function dropRecipe(r: KeptRecipe): Promise<void> {
  try {
    await call(routes.dropRecipe, { params: { recipeId: r.id } });
    voice.say(`“${r.name}” is forgotten.`);
    await loadRecipes();
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const saidOf = (r: KeptRecipe): string => {
  const [ran, old, failed] = [r.runs.length, r.runs.filter((x) => x.outdated).length, r.runs.filter((x) => x.problem !== '').length];
  if (ran === 0) return 'not used yet';
  return [
    count(ran, 'face'),
    ...(old > 0 ? [`${old} with a newer version since`] : []),
    ...(failed > 0 ? [`${failed} not made`] : []),
  ].join(', ');
};
const zipAddress = computed(() =>
  addressOf(routes.getConversions, { query: { faces: [...new Set(made.value.map((m) => m.faceId))].join(','), wish: wishText.value } }),
);

/** One face after the other; what is made stays when it is stopped. */
async function convert(): Promise<void> {
  busy.value = true;
  stopping.value = false;
  const mine = turn;
  const queue = going.value.filter((p) => stateOf(p)?.state !== 'made');
  const one = async (): Promise<void> => {
    for (let p = queue.shift(); p && !stopping.value && !gone && mine === turn; p = queue.shift()) {
      const { faceId } = p;
      states.value = { ...states.value, [faceId]: { state: 'working' } };
      let next: State;
      try {
        next = {
          state: 'made',
          made: await call(routes.convertFace, { params: { faceId }, body: { wish: wish.value, recipeId: current.value?.id ?? null } }),
        };
      } catch (error) {
        next = { state: 'refused', why: sentence(error) };
      }
      if (mine === turn) states.value = { ...states.value, [faceId]: next };
    }
  };
  // Two at a time: the server reads with as many processes as it has cores, and others want some of them.
  await Promise.all([one(), one()]);
  busy.value = false;
  if (current.value) void loadRecipes();
  if (mine === turn && !gone)
    voice.say(`${count(sizes.value.length, 'face is', 'faces are')} made${stopping.value ? '; the rest was stopped' : ''}.`);
}
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4">
      <FoundryRooms />
      <h1>Convert faces</h1>
      <div class="mt-3 flex flex-wrap items-baseline gap-x-2 gap-y-1 font-serif text-[17px]">
        <span>Make</span><SentencePart v-model="to" name="format" :choices="FORMATS" /><span>with</span
        ><span class="inline-flex items-baseline"
          ><SentencePart v-model="kept" name="characters" :choices="WITH" /><span v-if="kept !== 'language'">,</span></span
        ><span v-if="kept === 'language'" class="inline-flex items-baseline"
          ><SentencePart v-model="language" name="language" :choices="languages" /><span>,</span></span
        ><span class="inline-flex items-baseline"
          ><SentencePart v-model="features" name="features" :choices="FEATURES" /><span>,</span></span
        ><span class="inline-flex items-baseline"><SentencePart v-model="axes" name="axes" :choices="AXES" /><span>,</span></span
        ><span class="inline-flex items-baseline"><SentencePart v-model="color" name="color" :choices="COLOR" /><span>,</span></span
        ><span class="inline-flex items-baseline"
          ><SentencePart v-model="overlaps" name="overlaps" :choices="OVERLAPS" /><span>,</span></span
        ><span class="inline-flex items-baseline"><SentencePart v-model="faults" name="faults" :choices="FAULTS" /><span>,</span></span
        ><span v-if="maySplit" class="inline-flex items-baseline"
          ><span class="mr-2">in</span><SentencePart v-model="files" name="files" :choices="FILES" /><span>,</span></span
        ><span>under</span
        ><span class="inline-flex items-baseline"><SentencePart v-model="naming" name="names" :choices="NAMES" /><span>.</span></span>
      </div>
      <div class="mt-3 grid max-w-3xl gap-3">
        <label v-if="kept === 'text'" class="block"
          ><span class="note">Words that must be set</span><textarea v-model.lazy="words" class="field mt-1 w-full" rows="2" />
        </label>
        <label v-if="kept === 'ranges'" class="block"
          ><span class="note">Ranges of Unicode, such as U+0020-007E, U+20AC</span
          ><input v-model.lazy="ranges" class="field mt-1 w-full font-mono"
        /></label>
        <label v-if="features" class="block"
          ><span class="note">Tags of features, such as kern, liga</span><input v-model.lazy="tags" class="field mt-1 w-full font-mono"
        /></label>
        <label v-if="axes === 'named' || axes === 'part'" class="block"
          ><span class="note">{{
            axes === 'named'
              ? 'Where the axes stand, such as wght=700, or the name of an instance'
              : 'What is left of each axis, such as wght=300:700; one value takes the axis out there, as in opsz=14'
          }}</span
          ><input v-model.lazy="at" class="field mt-1 w-full font-mono"
        /></label>
        <div v-if="naming === 'other'" class="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
          <label class="block"
            ><span class="note">Family</span><input v-model.lazy="family" class="field mt-1 w-full" maxlength="120"
          /></label>
          <label class="block"
            ><span class="note">Style, such as Light Italic</span><input v-model.lazy="style" class="field mt-1 w-full" maxlength="120"
          /></label>
          <label class="block"
            ><span class="note">Version, such as 1.002</span><input v-model.lazy="version" class="field mt-1 w-full" inputmode="decimal"
          /></label>
          <label class="col-span-full block"
            ><span class="note">License, in words that stand in the file</span><input v-model.lazy="license" class="field mt-1 w-full"
          /></label>
        </div>
        <label v-if="outlinesMayChange" class="flex items-baseline gap-2"
          ><span class="note">Where outlines are converted, they stay within</span
          ><input v-model.lazy="tolerance" class="field w-20" inputmode="decimal" /><span class="note"
            >thousandths of the em, and the rounding to whole units</span
          ></label
        >
      </div>
      <p v-if="problem" role="alert" class="mt-4 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
      <p v-if="faceIds.length === 0" class="mt-5">
        No face was chosen. <RouterLink class="link" to="/library">Choose some in the library</RouterLink>, and they lie in the tray.
      </p>
      <p v-else-if="plans === null && !problem" class="mt-5 text-soft">Looking at {{ count(faceIds.length, 'face') }} …</p>
      <ol v-if="plans" class="mt-5 border-t border-rule">
        <li v-for="p in plans" :key="p.faceId" class="border-b border-rule py-4">
          <p class="overflow-hidden text-[32px] leading-[44px] whitespace-nowrap">
            <LiveText v-if="library.faces.get(p.faceId)" :face="library.faces.get(p.faceId)!.face" :text="p.face" />
          </p>
          <div class="mt-1 flex flex-wrap items-center gap-x-4">
            <span class="font-semibold">{{ p.face }}</span><VerdictMark :answer="p.verdict.answer" label="Changing the file" />
            <span class="note">{{
              p.steps
                ? `It is ${p.steps}${p.stop || stateOf(p) ? '' : `; about ${size(p.estimate)}`}.`
                : 'It is that already; nothing is changed.'
            }}</span>
          </div>
          <ul v-if="p.mendable.length > 0 && !stateOf(p)" class="note mt-1 list-disc pl-5">
            <li v-for="m in p.mendable" :key="m">{{ m }} {{ faults === 'mended' ? 'It is mended.' : 'It can be mended.' }}</li>
          </ul>
          <p v-if="p.stop" class="mt-2 border-l-2 border-no bg-no-pale px-3 py-1">{{ p.stop }}</p>
          <p v-else-if="p.verdict.answer !== 'yes'" class="mt-2 border-l-2 border-ask bg-ask-pale px-3 py-1">
            {{ p.verdict.reasons[0] }} {{ p.verdict.remedy }}
            <button v-if="p.renameSettles && naming === ''" type="button" class="link" @click="naming = 'other'">
              Give it another name
            </button>
          </p>
          <p v-if="stateOf(p)?.state === 'working'" class="note mt-2">Converting …</p>
          <p v-else-if="stateOf(p)?.state === 'refused'" role="alert" class="mt-2 border-l-2 border-no bg-no-pale px-3 py-1">
            {{ (stateOf(p) as { why: string }).why }}
          </p>
          <template v-for="m in made.filter((x) => x.faceId === p.faceId)" :key="`${m.part}${m.sha256}`">
            <p class="mt-2 border-l-2 border-yes bg-yes-pale px-3 py-1">
              <a class="link" :href="fileAddress(m)" download>{{ m.fileName }}</a>, {{ smaller(m)
              }}{{
                m.farthest === null
                  ? m.glyphsCompared > 0
                    ? `. ${count(m.glyphsCompared, 'glyph')} compared, all equal.`
                    : '.'
                  : `. ${count(m.glyphsCompared, 'glyph')} compared; no outline is farther than ${((1000 * m.farthest) / m.unitsPerEm).toFixed(2)} thousandths of the em from where it was.`
              }}
            </p>
            <button
              v-if="m.farthest !== null"
              type="button"
              class="link mt-1 text-note"
              :aria-expanded="shown === m.sha256"
              @click="shown = shown === m.sha256 ? '' : m.sha256"
            >
              {{ shown === m.sha256 ? 'Close the comparison' : 'Before and after, one over the other' }}
            </button>
            <GlyphDifference v-if="shown === m.sha256" :made="m" :wish="wish" />
            <ul v-if="m.changes.length > 0" class="note mt-1 list-disc pl-5">
              <li v-for="c in m.changes" :key="c">{{ c }}</li>
            </ul>
            <div v-if="m.part === ''" class="mt-1 h-1.5 max-w-md bg-rule" aria-hidden="true">
              <div class="h-full bg-yes" :style="{ width: `${Math.min(100, (100 * m.bytes) / m.sourceBytes)}%` }" />
            </div>
          </template>
        </li>
      </ol>
    </div>
    <aside
      aria-label="The queue"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-6 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <h2>{{ known.length > 0 ? count(known.length, 'face') : 'No face yet' }}</h2>
      <p class="note mt-1">
        Every file is compared with its source before it is yours: outlines, advances, characters, and how text is set. What would differ is
        not made.
      </p>
      <template v-if="going.length > 0">
        <p v-if="left === 0 && !busy" class="note mt-4">All that may be converted is made.</p>
        <button v-else-if="session.canEdit" type="button" class="press mt-4 w-full justify-center" :disabled="busy" @click="convert">
          {{ busy ? `Converting, ${ended} of ${going.length} …` : `Convert ${count(left, 'face')}` }}
        </button>
        <p v-else class="note mt-4">An editor or an owner converts faces.</p>
        <button v-if="busy" type="button" class="press-quiet mt-2 w-full justify-center" @click="stopping = true">
          Stop after this one
        </button>
        <progress v-if="busy" class="mt-3 w-full" :value="ended" :max="going.length" aria-label="Faces converted" />
      </template>
      <p v-if="made.length > 1 && !busy" class="mt-4">
        <a class="link" :href="zipAddress" download>All {{ made.length }} files as a ZIP, with the report</a>
        <RouterLink class="link ml-4" :to="{ path: '/places/check', query: { faces: faceIds.join(',') } }"
          >Put these faces at places, each in the form it takes</RouterLink
        >
      </p>
      <SizeChart v-if="sizes.length > 0 && !busy" class="mt-4" :rows="sizes" />
      <template v-if="perLanguage.length > 0 && !busy">
        <h3 class="mt-4">What a page loads</h3>
        <ul class="mt-1">
          <li v-for="l in perLanguage" :key="l.name" class="flex justify-between gap-2">
            <span>{{ l.name }}</span><span class="note">{{ size(l.bytes) }}</span>
          </li>
        </ul>
      </template>
      <h3 class="mt-6">Recipes</h3>
      <ul v-if="recipes.length > 0" class="mt-1">
        <li v-for="r in recipes" :key="r.id" class="flex flex-wrap items-baseline gap-x-2">
          <button
            type="button"
            class="link"
            :class="{ 'font-semibold': current?.id === r.id }"
            :aria-pressed="current?.id === r.id"
            @click="useRecipe(r)"
          >
            {{ r.name }}</button><span class="note flex-1">{{ saidOf(r) }}</span
          ><button v-if="session.canEdit" type="button" class="link text-note" :aria-label="`Forget ${r.name}`" @click="dropRecipe(r)">
            Forget
          </button>
        </li>
      </ul>
      <form v-if="session.canEdit && !current" class="mt-2 flex gap-2" @submit.prevent="keepRecipe">
        <input
          v-model="recipeName"
          class="field min-w-0 flex-1"
          maxlength="120"
          required
          placeholder="For our website"
          aria-label="Name of the recipe"
        /><button type="submit" class="press-quiet" :disabled="recipeName.trim() === ''">Keep it</button>
      </form>
      <p class="note mt-1">A kept recipe is run again by itself when a newer version of a face comes in.</p>
      <p v-if="staying.length > 0" class="note mt-4">
        {{ count(staying.length, 'face stays as it is', 'faces stay as they are') }}; the reason stands beside each.
        <RouterLink class="link" :to="{ path: '/licenses/new', query: { faces: staying.map((p) => p.faceId).join(',') } }"
          >Record a license</RouterLink
        >
      </p>
      <h3 class="mt-6">Not offered</h3>
      <p class="note mt-1">
        EOT was for one browser, which is gone; none of today reads it. For a website, take the
        <RouterLink class="link" :to="{ path: '/handover', query: { faces: faceIds.join(',') } }">web kit</RouterLink>.
      </p>
    </aside>
  </div>
</template>
