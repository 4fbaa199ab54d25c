<script setup lang="ts">
import { RadioGroup, RadioGroupOption } from '@headlessui/vue';
import type { LicenseFields } from '@orderly-glyph/schema';
import { LIMITS, limitsOf, openLicense, USES, USE_WORDS, type TermsReading } from '@orderly-glyph/schema';
import { useSession } from '../accounts/session';
import TermsSentences from './TermsSentences.vue';

/** What a license allows, use by use, beside every sentence of its terms that bears on it. */
const form = defineModel<LicenseFields>({ required: true });
const props = defineProps<{ terms: TermsReading | null; field: string }>();
const session = useSession();
type Use = (typeof USES)[number];

const ANSWERS = [
  { value: 'yes', word: 'Yes', look: 'bg-yes-pale text-yes border-yes' },
  { value: 'ask', word: 'Ask first', look: 'bg-ask-pale text-ask border-ask' },
  { value: 'no', word: 'No', look: 'bg-no-pale text-no border-no' },
] as const;
const WORD = { yes: 'Yes', ask: 'Ask first', no: 'No' } as const;
/** What the terms say plainly of a use, until it is taken. */
const suggestionFor = (use: Use) =>
  props.terms?.suggestions.find(
    (s) => s.use === use && !(form.value.uses[use] === s.answer && form.value.quotes[use] === s.sentence.slice(0, 1000)),
  ) ?? null;
const sentencesOn = (use: Use) => props.terms?.passages.find((p) => p.use === use)?.sentences ?? [];
/** A number in the terms that fits a field and does not stand there yet. */
const amountFor = (key: keyof typeof LIMITS) =>
  props.terms?.limits.find((l) => l.limit === key && form.value.limits[key] !== l.amount) ?? null;

/** An answer takes along the sentences it was given beside, unless it has some already. */
function answerUse(use: Use, answer: 'yes' | 'ask' | 'no'): void {
  form.value.uses = { ...form.value.uses, [use]: answer };
  const beside = sentencesOn(use).map((s) => (s.context ? `${s.context} ${s.sentence}` : s.sentence));
  if (beside.length > 0 && !form.value.quotes[use]) form.value.quotes = { ...form.value.quotes, [use]: beside.join(' … ').slice(0, 1000) };
}

/** The sentence an answer rests on: the record's own, or that of the known text. */
/** Where in a known license the quote of a use stands, in brackets. */
function clauseOf(use: Use): string {
  const known = form.value.spdxId ? openLicense(form.value.spdxId)?.uses[use] : undefined;
  return known && known.quote === quoteOf(use) ? ` (${known.clause})` : '';
}
const quoteOf = (use: Use): string =>
  form.value.uses[use] ? form.value.quotes[use] || (form.value.spdxId ? (openLicense(form.value.spdxId)?.uses[use].quote ?? '') : '') : '';

/** Sentences that the answer does not rest on yet; those it does stand there already. */
const beyondQuote = (use: Use) => sentencesOn(use).filter((s) => !quoteOf(use).includes(s.sentence));

/** One press takes a suggestion with its sentence; the person has the sentence before them. */
function takeSuggestion(use: Use): void {
  const s = suggestionFor(use);
  if (!s) return;
  form.value.uses = { ...form.value.uses, [use]: s.answer };
  form.value.quotes = { ...form.value.quotes, [use]: s.sentence.slice(0, 1000) };
  const [limit] = limitsOf(use);
  if (s.limit !== null && limit) form.value.limits = { ...form.value.limits, [limit]: s.limit };
}
function setNumber(which: 'limits' | 'counters', key: keyof typeof LIMITS, event: Event): void {
  const raw = (event.target as HTMLInputElement).value;
  const next = { ...form.value[which] };
  if (raw === '') delete next[key];
  else next[key] = Number(raw);
  form.value[which] = next;
}
function setQuote(use: Use, event: Event): void {
  const raw = (event.target as HTMLInputElement).value;
  const next = { ...form.value.quotes };
  if (raw === '') delete next[use];
  else next[use] = raw;
  form.value.quotes = next;
}
</script>

<template>
  <div v-if="terms && terms.general.length > 0" class="mt-2 border-l-4 border-ask bg-ask-pale px-3 py-2">
    <p>This stands above all uses. Read it before you answer any.</p>
    <TermsSentences class="mt-1" :sentences="terms.general" :most="8" />
  </div>
  <div class="mt-2 border-t border-rule">
    <div v-for="use in USES" :key="use" class="border-b border-rule py-2">
      <RadioGroup
        :model-value="form.uses[use]"
        :disabled="!session.canEdit"
        class="flex items-center justify-between gap-4 max-sm:flex-col max-sm:items-start"
        :aria-label="USE_WORDS[use].label"
        @update:model-value="(answer) => answerUse(use, answer as 'yes')"
      >
        <div class="min-w-0">
          <p>{{ USE_WORDS[use].label }}</p>
          <p class="note">{{ USE_WORDS[use].hint }}</p>
        </div>
        <div class="flex shrink-0">
          <RadioGroupOption v-for="a in ANSWERS" :key="a.value" v-slot="{ checked }" :value="a.value" class="outline-offset-2">
            <span
              class="-ml-px block cursor-pointer border px-3 py-1 text-note"
              :class="checked ? `${a.look} relative font-semibold` : 'border-rule-strong text-soft'"
              >{{ a.word }}</span
            >
          </RadioGroupOption>
        </div>
      </RadioGroup>
      <p v-if="quoteOf(use)" class="mt-1 line-clamp-3 font-serif text-note text-soft italic" :title="quoteOf(use)">
        “{{ quoteOf(use) }}”{{ clauseOf(use) }}
      </p>
      <TermsSentences v-if="beyondQuote(use).length > 0" class="mt-1" :sentences="beyondQuote(use)" />
      <p v-if="suggestionFor(use)" class="mt-1 border-l-2 border-action pl-2 text-note">
        This reads plainly as {{ WORD[suggestionFor(use)!.answer]
        }}{{ suggestionFor(use)!.limit === null ? '' : `, up to ${suggestionFor(use)!.limit!.toLocaleString('en-US')}` }}.
        <button type="button" class="link ml-1" @click="takeSuggestion(use)">
          Take it<span class="sr-only"> for {{ USE_WORDS[use].label }}</span>
        </button>
      </p>
      <details class="mt-1" :open="limitsOf(use).some((key) => form.limits[key] !== undefined || amountFor(key) !== null)">
        <summary class="note w-fit cursor-pointer">Sentence{{ limitsOf(use).length > 0 ? ' and limit' : '' }}</summary>
        <label class="note block"
          >In the license’s own words<input
            class="field mt-0.5"
            maxlength="1000"
            :value="form.quotes[use] ?? ''"
            @input="setQuote(use, $event)"
        /></label>
        <div v-for="key in limitsOf(use)" :key="key" class="mt-1 grid grid-cols-2 gap-3">
          <label class="note block"
            >At most, {{ LIMITS[key].unit
            }}<input
              type="number"
              min="1"
              class="field mt-0.5"
              :value="form.limits[key] ?? ''"
              :aria-invalid="field === `limits.${key}`"
              @input="setNumber('limits', key, $event)"
            /><button
              v-if="amountFor(key)"
              type="button"
              class="link"
              :title="amountFor(key)!.sentence"
              @click="form.limits = { ...form.limits, [key]: amountFor(key)!.amount }"
            >
              {{ amountFor(key)!.amount.toLocaleString('en-US') }} in the terms
            </button></label
          >
          <label class="note block"
            >Used so far<input
              type="number"
              min="0"
              class="field mt-0.5"
              :value="form.counters[key] ?? ''"
              :aria-invalid="field === `counters.${key}`"
              @input="setNumber('counters', key, $event)"
          /></label>
        </div>
      </details>
    </div>
    <div v-if="terms && terms.also.length > 0" class="border-b border-rule py-2">
      <p>Also read these</p>
      <p class="note">Sentences of the terms that fit no use above.</p>
      <TermsSentences class="mt-1" :sentences="terms.also" :most="6" />
    </div>
  </div>
</template>
