<script setup lang="ts">
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue';
import { ChevronDown } from '@lucide/vue';
import { KIND_WORDS, LICENSE_KINDS } from '@orderly-glyph/schema';
import { useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import { addressOf, routes } from '../../platform/api';
import LicenseCover from './LicenseCover.vue';
import LicenseDuties from './LicenseDuties.vue';
import LicenseUses from './LicenseUses.vue';
import StartingPoints from './StartingPoints.vue';
import TermsPane from './TermsPane.vue';
import { useLicenseRecord } from './record';
import ProofOfRightsForm from '../reports/ProofOfRightsForm.vue';
import { useSession } from '../accounts/session';
import { count, when } from '../../platform/words';

const props = defineProps<{ licenseId: string }>();
const router = useRouter();
const session = useSession();
const { param } = useAddress();
const {
  isNew,
  form,
  existing,
  companions,
  suggestion,
  left,
  shown,
  pasted,
  problem,
  field,
  busy,
  families,
  history,
  others,
  sending,
  addEvidence,
  takeKnown,
  opening,
  read,
  save,
  clashes,
  takeTheirs,
  remove,
} = useLicenseRecord(() => props.licenseId);

const CURRENCIES = Intl.supportedValuesOf('currency');
/** The currencies most sellers ask in come first. */
const COMMON = ['EUR', 'GBP', 'USD', 'PLN', 'CHF', 'JPY'];

function pickEvidence(event: Event): void {
  const input = event.target as HTMLInputElement;
  const files = [...(input.files ?? [])];
  input.value = '';
  void addEvidence(files);
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
          <ProofOfRightsForm :face-ids="form.faceIds" />
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
