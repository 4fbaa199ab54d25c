<script setup lang="ts">
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue';
import { ChevronDown } from '@lucide/vue';
import type { Answer, BundleSuggestion, Companion, Face, KnownText, License, LicenseFields, Suggestion } from '@orderly-glyph/schema';
import { blankLicense, KIND_WORDS, LICENSE_KINDS, openLicense } from '@orderly-glyph/schema';
import { computed, onMounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { ApiProblem, addressOf, call, routes, sendEvidence, sentence } from '../../platform/api';
import LicenseCover from './LicenseCover.vue';
import LicenseDuties from './LicenseDuties.vue';
import LicenseUses from './LicenseUses.vue';
import StartingPoints from './StartingPoints.vue';
import TermsPane from './TermsPane.vue';
import { merge, put, type Clash } from './merge';
import type { ShownText } from './shown';
import RightsProof from '../reports/RightsProof.vue';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import { count, list, when } from '../../platform/words';

const props = defineProps<{ licenseId: string }>();
const route = useRoute();
const router = useRouter();
const library = useLibrary();
const session = useSession();
const voice = useVoice();

const isNew = computed(() => props.licenseId === 'new');
const form = ref<LicenseFields | null>(null);
const existing = ref<License | null>(null);
const companions = ref<Companion[]>([]);
const suggestion = ref<Suggestion | null>(null);
/** Families that the text does not count for, with the reason. */
const left = ref<BundleSuggestion['left']>([]);
/** The text on the right, and one that was pasted there and is kept with the license. */
const shown = ref<ShownText | null>(null);
const pasted = ref('');
/** The license field of the file, read where no text came along. */
let inFile = '';
const problem = ref('');
const field = ref('');
const busy = ref(false);
const families = computed(() =>
  list([...new Set((form.value?.faceIds ?? []).map((id) => library.faces.get(id)?.family.name ?? ''))].filter(Boolean), 6),
);
const param = (name: string): string => (typeof route.query[name] === 'string' ? route.query[name] : '');

const CURRENCIES = Intl.supportedValuesOf('currency');
/** The currencies most sellers ask in come first. */
const COMMON = ['EUR', 'GBP', 'USD', 'PLN', 'CHF', 'JPY'];
const history = ref<Answer<(typeof routes)['getLicenseHistory']>>([]);
watch(existing, async (found) => {
  history.value = found ? await call(routes.getLicenseHistory, { params: { licenseId: found.id } }).catch(() => []) : [];
});
/** Licenses these faces could join instead of getting a record of their own. */
const others = ref<License[]>([]);
onMounted(async () => {
  if (isNew.value) others.value = await call(routes.listLicenses).catch(() => []);
});

const sending = ref(false);
async function addEvidence(files: readonly File[]): Promise<void> {
  const licenseId = existing.value?.id;
  if (!licenseId || !form.value) return;
  sending.value = true;
  for (const file of files)
    try {
      const kept = await sendEvidence(licenseId, file);
      companions.value = [...companions.value, kept];
      form.value.companionIds = [...form.value.companionIds, kept.id];
      voice.say(kept.unread ? `${kept.name}: ${kept.unread}` : `Kept as evidence: ${kept.name}.`);
      if (kept.readable && !shown.value) await read(kept);
      // That made a version of its own; one that somebody else made meanwhile is met when keeping.
      const now = (await call(routes.listLicenses).catch((): License[] => [])).find((l) => l.id === licenseId);
      if (now && now.version === (existing.value?.version ?? 0) + 1) existing.value = now;
    } catch (error) {
      voice.say(`${file.name}: ${sentence(error)}`, 'fault');
    }
  sending.value = false;
}
function pickEvidence(event: Event): void {
  const input = event.target as HTMLInputElement;
  const files = [...(input.files ?? [])];
  input.value = '';
  void addEvidence(files);
}

/** What a text offers to answer goes into the form, with its sentences; only the person confirms. */
function take(s: Suggestion): void {
  if (!form.value) return;
  const offered = Object.entries(s.answers);
  const known = s.spdxId !== null && offered.length > 0 ? openLicense(s.spdxId) : null;
  form.value = {
    ...form.value,
    name: `${s.name}, ${families.value}`.slice(0, 160),
    kind: known?.kind ?? form.value.kind,
    spdxId: known?.spdxId ?? null,
    uses: Object.fromEntries(offered.map(([use, a]) => [use, a.answer])),
    quotes: {},
    companionIds: s.companionId ? [s.companionId] : form.value.companionIds,
    confirmed: false,
  };
}
/** The same for a license recognized in a text that was opened or pasted here. */
function takeKnown(r: KnownText): void {
  const before = form.value;
  take({ ...r, basis: 'text', reservedNames: [], companionId: null, companionName: null, sentence: null, doubt: null });
  voice.say(`Filled in from the ${r.name}. Look it over.`, 'told', { label: 'Undo', run: () => void (form.value = before) });
}

async function startNew(): Promise<void> {
  let faceIds: string[] = [];
  let text: BundleSuggestion | null = null;
  if (param('text')) {
    const { suggestions } = await call(routes.getIntake, { params: { intakeId: param('intake') } });
    text = suggestions.find((s) => s.companionId === param('text')) ?? null;
    faceIds = text?.faceIds ?? [];
    left.value = text?.left ?? [];
  } else if (param('bare')) faceIds = library.families.filter((f) => f.licenseName === null).flatMap((f) => f.faces.map((x) => x.id));
  else if (param('family')) faceIds = library.families.find((f) => f.id === param('family'))?.faces.map((f) => f.id) ?? [];
  else
    faceIds = param('faces')
      .split(',')
      .filter((id) => library.faces.has(id));
  form.value = blankLicense(faceIds);
  const first = faceIds[0];
  if (!first) return;
  // Companions of every family covered; one face of each is enough, since they came together.
  const leads = [...new Map(faceIds.map((id) => [library.faces.get(id)?.family.id, id])).values()].slice(0, 20);
  const faces: Face[] = await Promise.all(leads.map((id) => call(routes.getFace, { params: { faceId: id } })));
  companions.value = [...new Map(faces.flatMap((f) => f.companions).map((c) => [c.id, c])).values()];
  inFile = faces[0]!.names.License ?? '';
  form.value.name = `Terms of ${families.value}`.slice(0, 160);
  // What counts for these faces, and what shows that they were bought, is what the record will rest on.
  form.value.companionIds = text
    ? [text.companionId]
    : companions.value.filter((c) => c.belongs === true || c.kind === 'receipt').map((c) => c.id);
  suggestion.value = text ? text.suggestion : (faces[0]!.suggestions[0] ?? null);
  if (suggestion.value) take(suggestion.value);
  form.value.grantor = faces[0]!.names.Manufacturer?.slice(0, 200) ?? '';
}

/** What was entered and not kept yet survives a reload and a step back, in this tab. */
const draftKey = computed(() => `license ${session.session?.workspace?.id ?? ''} ${route.fullPath}`);
let fresh = '';
watch(
  form,
  (now) => {
    if (!now || fresh === '') return;
    const text = JSON.stringify(now);
    if (text === fresh) sessionStorage.removeItem(draftKey.value);
    else sessionStorage.setItem(draftKey.value, text);
  },
  { deep: true },
);
function takeUpDraft(): void {
  if (!form.value) return;
  fresh = JSON.stringify(form.value);
  const kept = sessionStorage.getItem(draftKey.value);
  if (!kept || kept === fresh) return;
  const asRead = form.value;
  form.value = { ...asRead, ...(JSON.parse(kept) as LicenseFields) };
  voice.say('What you had entered and not kept is here again.', 'told', { label: 'Throw it away', run: () => void (form.value = asRead) });
}

async function load(): Promise<void> {
  problem.value = '';
  fresh = '';
  form.value = null;
  existing.value = null;
  companions.value = [];
  suggestion.value = null;
  shown.value = null;
  pasted.value = '';
  inFile = '';
  left.value = [];
  clashes.value = [];
  theirs.value = null;
  try {
    if (isNew.value) await startNew();
    else {
      const found = (await call(routes.listLicenses)).find((l) => l.id === props.licenseId);
      if (!found) {
        problem.value = 'This license is not on record any more.';
        return;
      }
      existing.value = found;
      const joining = param('add')
        .split(',')
        .filter((id) => library.faces.has(id));
      form.value = fieldsOf(found);
      form.value.faceIds = [...new Set([...form.value.faceIds, ...joining])];
      const first = found.faceIds[0];
      const face = first ? await call(routes.getFace, { params: { faceId: first } }) : null;
      inFile = face?.names.License ?? '';
      companions.value = [...new Map([...found.companions, ...(face?.companions ?? [])].map((c) => [c.id, c])).values()];
    }
    // The terms say most; then what this license rests on.
    const rank = (c: Companion): number => (form.value?.companionIds.includes(c.id) ? 2 : 0) + (c.kind === 'terms' ? 1 : 0);
    const evidence = companions.value.filter((c) => c.readable && rank(c) > 0).sort((a, b) => rank(b) - rank(a))[0];
    if (evidence) await read(evidence);
    else if (inFile.trim() !== '') await readInFile();
    takeUpDraft();
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(() => {
  if (library.state === 'ready') void load();
});
watch(
  () => library.state,
  (state, before) => {
    if (state === 'ready' && before !== 'ready') void load();
  },
);
watch(() => props.licenseId, load);

async function readInFile(): Promise<void> {
  const text = inFile;
  const answer = await call(routes.readTermsText, { body: { text } });
  shown.value = { name: 'License field of the file', text, unread: null, ...answer };
}

const opening = ref('');
async function read(c: Companion): Promise<void> {
  opening.value = c.name;
  try {
    const answer = await call(routes.readCompanion, { params: { companionId: c.id } });
    shown.value = { name: c.name, unread: c.unread, ...answer };
  } catch (error) {
    voice.say(sentence(error), 'fault');
  } finally {
    opening.value = '';
  }
}

async function save(): Promise<void> {
  if (!form.value) return;
  busy.value = true;
  problem.value = '';
  field.value = '';
  try {
    const f = form.value;
    const body = {
      ...f,
      startsOn: f.startsOn || null,
      endsOn: f.endsOn || null,
      noticeOn: f.noticeOn || null,
      boughtOn: f.boughtOn || null,
      // An emptied number field holds an empty text.
      price: typeof f.price === 'number' ? f.price : null,
      currency: f.currency || null,
      duties: f.duties.map((d) => d.trim()).filter(Boolean),
    };
    const saved = isNew.value
      ? await call(routes.createLicense, { body })
      : await call(routes.changeLicense, { params: { licenseId: props.licenseId }, body: { ...body, version: existing.value!.version } });
    sessionStorage.removeItem(draftKey.value);
    fresh = '';
    voice.say(`Kept: ${saved.name}.`);
    if (pasted.value)
      await sendEvidence(saved.id, new File([pasted.value], 'Pasted terms.txt', { type: 'text/plain' })).catch((error: unknown) =>
        voice.say(`The license is kept, the pasted text is not: ${sentence(error)}`, 'fault'),
      );
    await library.load();
    const face = library.families.find((f) => f.faces.some((x) => saved.faceIds.includes(x.id)))?.leadFaceId;
    await router.push(face ? { path: '/library', query: { face } } : '/licenses');
  } catch (error) {
    problem.value = sentence(error);
    field.value = error instanceof ApiProblem ? (error.field ?? '') : '';
    if (error instanceof ApiProblem && error.code === 'stale') await meet();
  } finally {
    busy.value = false;
  }
}

/** What somebody else made of the record meanwhile, and where we both changed the same. */
const theirs = ref<LicenseFields | null>(null);
const clashes = ref<Clash[]>([]);
const fieldsOf = (l: License): LicenseFields =>
  Object.fromEntries(Object.keys(blankLicense([])).map((key) => [key, l[key as keyof LicenseFields]])) as LicenseFields;
async function meet(): Promise<void> {
  const now = (await call(routes.listLicenses).catch(() => [])).find((l) => l.id === props.licenseId);
  if (!now || !existing.value || !form.value) return;
  theirs.value = fieldsOf(now);
  const met = merge(fieldsOf(existing.value), form.value, theirs.value);
  form.value = met.merged;
  clashes.value = met.clashes;
  existing.value = now;
  problem.value =
    met.clashes.length > 0
      ? 'Somebody changed this license while you worked on it. What only one of you changed is joined below; of what both changed yours stands until you choose. Nothing is kept yet.'
      : 'Somebody changed this license while you worked on it. Both changes are joined below; look it over and keep it again.';
}
function takeTheirs(c: Clash): void {
  if (form.value && theirs.value) form.value = put(form.value, c.path, theirs.value);
  clashes.value = clashes.value.filter((x) => x !== c);
}

async function remove(): Promise<void> {
  const before = existing.value;
  if (!before) return;
  try {
    await call(routes.removeLicense, { params: { licenseId: before.id } });
    voice.say(`“${before.name}” is off record. Its faces no longer rest on it.`, 'told', {
      label: 'Undo',
      run: () =>
        void call(routes.restoreLicense, { params: { licenseId: before.id } }).then(
          () => library.load(),
          (error: unknown) => voice.say(sentence(error), 'fault'),
        ),
    });
    await library.load();
    await router.push('/licenses');
  } catch (error) {
    problem.value = sentence(error);
  }
}
</script>

<template>
  <div class="flex h-full max-lg:block">
    <form class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4" @submit.prevent="save">
      <RouterLink to="/licenses" class="link text-note">Licenses</RouterLink>
      <h1>{{ isNew ? 'What may we do with it?' : existing?.name }}</h1>
      <p v-if="problem" role="alert" class="mt-3 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
      <ul v-if="clashes.length > 0" class="mt-2 border-l-4 border-ask bg-ask-pale px-4 py-2">
        <li v-for="c in clashes" :key="c.path" class="py-1">
          {{ c.label }}: yours is “{{ c.mine }}”, theirs “{{ c.theirs }}”.
          <button type="button" class="link ml-1" @click="takeTheirs(c)">
            Take theirs<span class="sr-only">, {{ c.label }}</span>
          </button>
        </li>
      </ul>
      <p v-if="!form && !problem" class="mt-3 text-soft">Reading what came with it …</p>
      <template v-if="form">
        <p class="mt-1 text-soft">
          {{
            form.faceIds.length > 0
              ? `Covers ${count(form.faceIds.length, 'face')} of ${families}.`
              : 'It covers no face yet: pick faces up in the library and start from the tray.'
          }}
        </p>
        <p v-if="isNew && others.length > 0 && form.faceIds.length > 0 && session.canEdit" class="mt-2">
          <label
            >Or let them join a license on record<select
              class="field block max-w-md"
              @change="
                router.push({ path: `/licenses/${($event.target as HTMLSelectElement).value}`, query: { add: form.faceIds.join(',') } })
              "
            >
              <option value=""></option>
              <option v-for="l in others" :key="l.id" :value="l.id">{{ l.name }}</option>
            </select></label
          >
        </p>
        <p v-if="!isNew && param('add')" class="mt-2 border-l-4 border-action bg-action-pale px-4 py-2">
          The faces you chose are put under this license once you keep the changes.
        </p>
        <p v-if="suggestion" class="mt-3 border-l-4 border-action bg-action-pale px-4 py-2">
          {{
            suggestion.basis === 'text'
              ? `${suggestion.companionName?.split('/').pop()} reads as the ${suggestion.name}, every clause word for word.`
              : `${suggestion.companionName?.split('/').pop() ?? 'The font file'} names the ${suggestion.name}; its full text did not come along.`
          }}
          <template v-if="suggestion.doubt">{{
            suggestion.basis === 'text' ? `Beside it stands: “${suggestion.doubt}”` : suggestion.doubt
          }}</template>
          {{
            Object.keys(suggestion.answers).length > 0
              ? 'The form below is filled in from it. Look it over, and tick at the end that you read it.'
              : suggestion.basis === 'text' && !suggestion.doubt
                ? 'We know its text and not what it allows: read it on the right and choose below. Until then every use says “Ask first”.'
                : 'It is a hint and answers nothing: read the terms and choose below.'
          }}
        </p>
        <ul v-if="left.length > 0" class="mt-2 border-l-4 border-ask bg-ask-pale px-4 py-2">
          <li v-for="l in left" :key="l.family + l.reason">
            <b class="font-semibold">Left out:</b> {{ l.family }}, {{ count(l.faces, 'face') }}. {{ l.reason }}
          </li>
        </ul>
        <fieldset :disabled="!session.canEdit" class="mt-5 flex flex-col gap-5">
          <div class="grid gap-4 sm:grid-cols-2">
            <label
              >Name of this license<input v-model="form.name" class="field" required maxlength="160" :aria-invalid="field === 'name'"
            /></label>
            <div>
              <Listbox v-model="form.kind" as="div" class="relative">
                <span id="kind-label">Kind</span>
                <ListboxButton
                  id="kind-value"
                  class="field flex items-center justify-between text-left"
                  aria-labelledby="kind-label kind-value"
                  >{{ KIND_WORDS[form.kind] }}<ChevronDown :size="16" aria-hidden="true"
                /></ListboxButton>
                <ListboxOptions class="absolute z-20 w-full border border-rule-strong bg-sheet py-1">
                  <ListboxOption v-for="k in LICENSE_KINDS" :key="k" v-slot="{ active, selected }" :value="k" as="template">
                    <li class="cursor-pointer px-3 py-1.5" :class="{ 'bg-action-pale': active, 'font-semibold': selected }">
                      {{ KIND_WORDS[k] }}
                    </li>
                  </ListboxOption>
                </ListboxOptions>
              </Listbox>
            </div>
            <label>Who grants it<input v-model="form.grantor" class="field" maxlength="200" placeholder="Maker or seller" /></label>
            <div class="grid grid-cols-2 gap-4">
              <label>From<input v-model="form.startsOn" type="date" class="field" /></label>
              <label>Until<input v-model="form.endsOn" type="date" class="field" :aria-invalid="field === 'endsOn'" /></label>
            </div>
            <label>Warn us from<input v-model="form.noticeOn" type="date" class="field" :aria-invalid="field === 'noticeOn'" /></label>
            <label
              >Where it is from<input v-model="form.source" class="field" maxlength="500" placeholder="Address of the seller’s page"
            /></label>
          </div>
          <details :open="form.price !== null || form.billedTo !== ''">
            <summary class="cursor-pointer font-serif text-[20px]">What it cost</summary>
            <div class="mt-2 grid gap-4 sm:grid-cols-2">
              <div class="grid grid-cols-2 gap-4">
                <label
                  >Price<input
                    v-model.number="form.price"
                    type="number"
                    min="0"
                    step="0.01"
                    class="field"
                    :aria-invalid="field === 'price'"
                /></label>
                <label
                  >Currency<select v-model="form.currency" class="field" :aria-invalid="field === 'currency'">
                    <option :value="null"></option>
                    <option v-for="c in [...COMMON, ...CURRENCIES.filter((x) => !COMMON.includes(x))]" :key="c" :value="c">{{ c }}</option>
                  </select></label
                >
              </div>
              <label>Bought on<input v-model="form.boughtOn" type="date" class="field" /></label>
              <label>Order number<input v-model="form.orderNumber" class="field" maxlength="100" /></label>
              <label
                >Billed to<input v-model="form.billedTo" class="field" maxlength="200" placeholder="A customer or a job, if not ourselves"
              /></label>
            </div>
          </details>
          <div>
            <h2>What it allows</h2>
            <p class="note">What you leave open stays “Ask first”.</p>
            <StartingPoints v-if="session.canEdit" v-model="form" />
            <LicenseUses v-model="form" :terms="shown?.reading ?? null" :field="field" />
          </div>
          <LicenseDuties v-model="form" :terms="shown?.reading ?? null" />
          <LicenseCover v-model="form" />
          <div>
            <h2>Evidence</h2>
            <p class="note">
              {{
                companions.length > 0
                  ? 'Files that came with the faces or were added here. Those you tick are kept as what this license rests on.'
                  : 'No file came with these faces.'
              }}
              {{ isNew ? 'Receipts and e-mails can be added once the license is kept.' : '' }}
            </p>
            <ul class="mt-1">
              <li v-for="c in companions" :key="c.id" class="flex items-center gap-3 py-1">
                <label class="flex min-w-0 items-center gap-2"
                  ><input v-model="form.companionIds" type="checkbox" :value="c.id" class="accent-action" /><span class="truncate">{{
                    c.name
                  }}</span></label
                >
                <span class="note shrink-0">{{ c.kind }}{{ c.receipt && c.kind !== 'receipt' ? ', receipt' : '' }}</span>
                <span v-if="c.why" class="note min-w-0 truncate" :title="c.why">{{ c.why }}</span>
                <span v-if="c.unread" class="note min-w-0 truncate text-ask" :title="c.unread">{{ c.unread }}</span>
                <button v-if="c.readable" type="button" class="link shrink-0 text-note" :aria-label="`Read ${c.name}`" @click="read(c)">
                  Read
                </button>
                <a
                  v-else
                  class="link shrink-0 text-note"
                  :href="addressOf(routes.downloadCompanion, { params: { companionId: c.id } })"
                  download
                  >Download</a
                >
              </li>
            </ul>
            <label v-if="!isNew && session.canEdit" class="press-quiet mt-2 inline-flex cursor-pointer focus-within:outline-2"
              ><input type="file" multiple class="sr-only" :disabled="sending" @change="pickEvidence" />{{
                sending ? 'Sending …' : 'Add a receipt, terms or an e-mail'
              }}</label
            >
          </div>
          <label
            >Note<textarea
              v-model="form.note"
              class="field"
              rows="3"
              maxlength="4000"
              placeholder="Where you bought it, what the seller wrote, what to remember"
            ></textarea>
          </label>
          <label class="flex items-start gap-2"
            ><input v-model="form.confirmed" type="checkbox" class="accent-action" /><span
              >I have read the terms and this is what they say. <span class="note">Without this, nothing counts as “Yes”.</span></span
            ></label
          >
          <div class="flex flex-wrap items-center gap-4">
            <button class="press" :disabled="busy">{{ isNew ? 'Keep this license' : 'Keep the changes' }}</button>
            <button v-if="existing" type="button" class="link text-no" @click="remove">Take it off record</button>
          </div>
        </fieldset>
        <section v-if="existing" class="mt-6 border-t border-rule pt-4">
          <RightsProof :face-ids="form.faceIds" />
        </section>
        <section v-if="history.length > 0" class="mt-6" aria-labelledby="history">
          <h2 id="history">What was changed</h2>
          <ol class="mt-1">
            <li v-for="h in history" :key="h.version" class="border-t border-rule py-1.5">
              <span class="note">Version {{ h.version }}, {{ h.by }}, {{ when(h.at) }}</span>
              <span v-for="c in h.changes" :key="c" class="block text-note">{{ c }}</span>
            </li>
          </ol>
        </section>
        <p v-if="existing?.confirmedBy" class="note mt-4">
          Confirmed by {{ existing.confirmedBy }} on {{ when(existing.confirmedAt!) }}. This is version {{ existing.version }}; earlier ones
          are kept.
        </p>
      </template>
    </form>
    <TermsPane
      v-if="form"
      v-model="shown"
      v-model:pasted="pasted"
      :came="companions.length"
      :opening="opening"
      :can-edit="session.canEdit"
      @take="takeKnown"
    />
  </div>
</template>
