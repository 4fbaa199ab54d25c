<script setup lang="ts">
import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/vue';
import type { Face } from '@orderly-glyph/schema';
import { KINDS, isSure, KIND_LABELS, USE_WORDS } from '@orderly-glyph/schema';
import { computed } from 'vue';
import { addressOf, routes } from '../../platform/api';
import { useLibrary } from './library';
import { useSession } from '../accounts/session';
import { useTray } from './tray';
import { count, list, size, weightName, when, widthName } from '../../platform/words';
import AlikeList from './AlikeList.vue';
import VerdictMark from '../licenses/VerdictMark.vue';

const props = defineProps<{ face: Face; text?: string }>();
const emit = defineEmits<{ choose: [faceId: string]; changed: [] }>();
const library = useLibrary();
const session = useSession();
const tray = useTray();

const FORMAT = { ttf: 'TTF', otf: 'OTF', ttc: 'TTC', woff: 'WOFF', woff2: 'WOFF2', eot: 'EOT', svg: 'SVG' } as const;
const OUTLINES = { glyf: 'TrueType outlines', CFF: 'CFF outlines', CFF2: 'CFF2 outlines', none: 'no outlines' } as const;
const LEVEL = {
  installable: 'The file may be embedded and installed.',
  editable: 'The file may be embedded in documents that others edit.',
  'preview-print': 'The file may be embedded for viewing and printing only.',
  restricted: 'The file forbids embedding. Websites and many programs refuse it.',
} as const;

const blocked = computed(() => props.face.findings.filter((f) => f.severity === 'blocks'));
const others = computed(() => props.face.findings.filter((f) => f.severity !== 'blocks'));
const full = computed(() => props.face.coverage?.languages.filter((l) => l.level === 'full') ?? []);
const near = computed(() => props.face.coverage?.languages.filter((l) => l.level === 'near') ?? []);
const scriptsFull = computed(() => props.face.coverage?.scripts.filter((s) => s.level === 'full').map((s) => s.name) ?? []);
/** What keeps a language from being written in full. */
function lackOf({ missing, browsersOnly }: NonNullable<Face['coverage']>['languages'][number]): string {
  const lacks = missing.length > 0 ? `lacks ${missing.join(' ')}` : '';
  const only = browsersOnly.length > 0 ? `in browsers only, which place the marks of ${browsersOnly.join(' ')}` : '';
  return [only, lacks].filter(Boolean).join('; ');
}
/** The languages the workspace sells in, each with its answer. */
const own = computed(() =>
  library.ownLanguages.map((tag) => {
    const found = props.face.coverage?.languages.find((l) => l.tag === tag);
    return {
      tag,
      name: library.languageNames.get(tag) ?? tag,
      level: found?.level ?? 'none',
      lacks: found ? lackOf(found) : '',
      complete: found?.complete ?? null,
      marks: found?.missingMarks ?? [],
    };
  }),
);
/** Large numbers of people, as rough as they are known. */
const people = (n: number): string =>
  n >= 1e9 ? `${(n / 1e9).toFixed(1)} billion` : n >= 1e6 ? `${Math.round(n / 1e6)} million` : `${Math.round(n / 1000)} thousand`;
const license = computed(() => props.face.licenses[0] ?? null);
const axisText = computed(() => props.face.axes.map((a) => `${a.name ?? a.tag} ${a.min} to ${a.max}`));

/** The kind in words that say how sure we are. */
const kindText = computed(() => {
  const { shape } = props.face;
  if (!shape) return 'Its outlines cannot be read, so its kind is not known.';
  if (shape.own) return `A ${KIND_LABELS[shape.own]} face, as one of you said.`;
  const word = KIND_LABELS[shape.value];
  const sure = isSure(shape.confidence)
    ? `A ${word} face (${Math.round(shape.confidence * 100)}% sure)`
    : `Perhaps a ${word} face; we are not sure`;
  return `${sure}${shape.decorative >= 0.6 ? ', and decorative: for large settings' : ''}.`;
});
async function correctKind(event: Event): Promise<void> {
  const value = (event.target as HTMLSelectElement).value;
  const faceIds = library.faces.get(props.face.id)?.family.faces.map((f) => f.id) ?? [props.face.id];
  if (await library.act({ act: 'kind', faceIds, kind: value === '' ? null : (value as (typeof KINDS)[number]) })) emit('changed');
}
const ratioText = (v: number | null): string => (v === null ? 'not measured' : v.toFixed(2));

/** The one next step. */
const next = computed(() => {
  const web = props.face.verdicts.find((v) => v.use === 'website');
  if (!license.value && session.canEdit)
    return {
      label: props.face.suggestions.length > 0 ? 'Confirm the license' : 'Record the license',
      to: { path: '/licenses/new', query: { family: props.face.familyId } },
    };
  if (web?.answer === 'yes' && props.face.installs.length === 0 && blocked.value.length === 0)
    return { label: 'Check it for a place', to: { path: '/places/check', query: { faces: props.face.id } } };
  return null;
});
const fileAddress = (fileId: string): string => addressOf(routes.downloadFile, { params: { fileId } });
const asAddress = (format: 'woff2' | 'woff' | 'otf' | 'ttf'): string =>
  addressOf(routes.downloadFace, { params: { faceId: props.face.id, format } });
const sfnt = computed(() => (props.face.outlines === 'glyf' ? 'ttf' : 'otf') as 'ttf' | 'otf');
</script>

<template>
  <div class="flex flex-col gap-5">
    <div>
      <h2>
        <RouterLink class="hover:underline" :to="`/library/family/${face.familyId}`">{{ face.family }}</RouterLink>
      </h2>
      <p class="text-soft">{{ face.style }}</p>
      <div class="mt-2 flex flex-wrap gap-2">
        <RouterLink v-if="next" class="press" :to="next.to">{{ next.label }}</RouterLink>
        <button type="button" class="press-quiet" :aria-pressed="tray.has(face.id)" @click="tray.toggle(face.id)">
          {{ tray.has(face.id) ? 'Put down' : 'Pick up' }}
        </button>
      </div>
      <p class="mt-2 flex flex-wrap gap-x-4">
        <RouterLink class="link text-note" :to="{ path: '/library/try', query: { face: face.id, text: text || undefined } }"
          >Try it</RouterLink
        >
        <RouterLink class="link text-note" :to="`/library/family/${face.familyId}`">All styles</RouterLink>
        <RouterLink class="link text-note" :to="{ path: '/library/proof', query: { faces: face.id } }">Proof sheet</RouterLink>
      </p>
    </div>

    <section aria-labelledby="q-what">
      <h3 id="q-what">What is it?</h3>
      <p v-for="f in blocked" :key="f.code + f.message" class="mt-1 border-l-2 border-no bg-no-pale px-3 py-1">{{ f.message }}</p>
      <p class="mt-1">{{ kindText }}</p>
      <p class="mt-1">
        {{ weightName(face.weightClass) }}, {{ widthName(face.widthClass) }}, {{ face.slope
        }}{{ face.monospaced ? ', all characters of one width' : '' }}. {{ FORMAT[face.files[0]!.format] }} with {{ OUTLINES[face.outlines]
        }}{{ face.files.length > 1 ? `, and ${count(face.files.length - 1, 'more file')} of the same face` : '' }}.
      </p>
      <p v-if="face.axes.length > 0" class="mt-1">Variable: {{ axisText.join('; ') }}.</p>
      <p v-if="face.color.length > 0" class="mt-1">Colored ({{ face.color.join(', ') }}); many places take no colored faces.</p>
      <p v-if="face.findings.length === 0" class="note mt-1">The file is sound.</p>
      <ul v-if="others.length > 0" class="mt-1 list-disc pl-5">
        <li v-for="f in others" :key="f.code + f.message" class="note">{{ f.message }}</li>
      </ul>
      <Disclosure v-slot="{ open }">
        <DisclosureButton class="link mt-1 text-note">{{ open ? 'Less' : 'Names, metrics and features' }}</DisclosureButton>
        <DisclosurePanel class="mt-2">
          <label v-if="session.canEdit" class="note mb-2 block"
            >Its kind
            <select class="field mt-0.5 min-h-0 py-1" :value="face.shape?.own ?? ''" @change="correctKind">
              <option value="">as computed</option>
              <option v-for="k in KINDS" :key="k" :value="k">{{ KIND_LABELS[k] }}</option>
            </select></label
          >
          <dl class="grid grid-cols-[7rem_1fr] gap-x-3 gap-y-1 text-note">
            <template v-if="face.shape">
              <dt class="text-soft">Stroke</dt>
              <dd>
                stems {{ ratioText(face.shape.stemWeight) }} of the cap height, thin to thick {{ ratioText(face.shape.contrast) }}, slant
                {{ face.shape.slant }}°
              </dd>
              <dt class="text-soft">Proportion</dt>
              <dd>
                x-height {{ ratioText(face.shape.xHeightRatio) }} of the cap height, letters {{ ratioText(face.shape.width) }} of it wide
              </dd>
            </template>
            <template v-for="(value, name) in face.names" :key="name">
              <dt class="text-soft">{{ name }}</dt>
              <dd class="line-clamp-4 min-w-0 break-words" :title="value">{{ value }}</dd>
            </template>
            <dt class="text-soft">Version</dt>
            <dd class="break-words">{{ face.version ?? 'not given' }}</dd>
            <dt class="text-soft">Vendor</dt>
            <dd>{{ face.vendor ?? 'not given' }}</dd>
            <dt class="text-soft">Units per em</dt>
            <dd>{{ face.unitsPerEm }}</dd>
            <dt class="text-soft">Ascender</dt>
            <dd>{{ face.ascender }}, descender {{ face.descender }}, line gap {{ face.lineGap }}</dd>
            <dt class="text-soft">x-height</dt>
            <dd>{{ face.xHeight ?? 'none' }}, cap height {{ face.capHeight ?? 'none' }}{{ face.heightsMeasured ? ' (measured)' : '' }}</dd>
            <dt class="text-soft">Features</dt>
            <dd class="code">{{ face.features.join(' ') || 'none' }}</dd>
            <dt class="text-soft">Scripts</dt>
            <dd class="code">{{ face.layoutScripts.join(' ') || 'none' }}</dd>
            <template v-if="face.instances.length > 0">
              <dt class="text-soft">Instances</dt>
              <dd>{{ face.instances.map((i) => i.name ?? i.coordinates.join(', ')).join(', ') }}</dd>
            </template>
          </dl>
        </DisclosurePanel>
      </Disclosure>
      <ul v-if="face.repairs.length > 0" class="mt-2 border-l border-rule-strong pl-3">
        <li v-for="r in face.repairs" :key="r.field + r.found" class="note mb-1">
          Read as {{ r.field }} <b class="font-semibold text-ink">{{ r.used }}</b>, where the file says {{ r.found }}. {{ r.reason }}
        </li>
      </ul>
      <p v-if="face.foldedInto" class="mt-1">
        It stands behind
        <button type="button" class="link" @click="emit('choose', face.foldedInto)">the face it is a double of</button>.
      </p>
      <ul v-if="face.folded.length > 0" class="mt-2">
        <li v-for="f in face.folded" :key="f.id" class="note">
          Behind it: {{ f.name }}{{ f.version ? `, ${f.version}` : '' }}, here since {{ when(f.addedAt) }}.
          <RouterLink class="link" :to="{ path: '/library/versions', query: { older: f.id, newer: face.id } }">What changed</RouterLink>
        </li>
      </ul>
      <Disclosure v-slot="{ open }">
        <DisclosureButton class="link mt-1 block text-note">{{ open ? 'Hide look-alikes' : 'What looks like it?' }}</DisclosureButton>
        <DisclosurePanel class="mt-2"
          ><AlikeList :face-id="face.id" :text="text || face.family" @choose="emit('choose', $event)"
        /></DisclosurePanel>
      </Disclosure>
    </section>

    <section aria-labelledby="q-may">
      <h3 id="q-may">May we?</h3>
      <p v-if="license" class="mt-1">
        <RouterLink class="link" :to="`/licenses/${license.id}`">{{ license.name }}</RouterLink>{{
          license.confirmed ? '' : ', not confirmed yet'
        }}{{ license.endsOn ? `, until ${when(license.endsOn)}` : '' }}.
      </p>
      <p v-else-if="face.suggestions[0]" class="mt-1">
        Nothing on record.
        {{
          face.suggestions[0].basis === 'text'
            ? `${face.suggestions[0].companionName!.split('/').pop()} reads as the ${face.suggestions[0].name}.`
            : `${face.suggestions[0].companionName?.split('/').pop() ?? 'The file itself'} names the ${face.suggestions[0].name}${face.suggestions[0].doubt ? `, which settles nothing: ${face.suggestions[0].doubt}` : '.'}`
        }}
      </p>
      <p v-else-if="face.companions.some((c) => c.belongs)" class="mt-1">
        Nothing on record.
        {{
          face.companions
            .find((c) => c.belongs)!
            .name.split('/')
            .pop()
        }}
        came along and says in its own words what may be done.
      </p>
      <p v-else-if="face.companions.some((c) => c.belongs === false)" class="mt-1">
        Not known.
        {{
          face.companions
            .find((c) => c.belongs === false)!
            .name.split('/')
            .pop()
        }}
        came in the same bundle and does not count for this face: {{ face.companions.find((c) => c.belongs === false)!.why }}
      </p>
      <p v-else class="mt-1">Not known. Nothing that came with the face names a license we know.</p>
      <ul class="mt-2 flex flex-col gap-1">
        <li v-for="v in face.verdicts" :key="v.use">
          <details class="group">
            <summary class="flex list-none items-center justify-between gap-3 py-0.5">
              <span>{{ USE_WORDS[v.use].label }}</span>
              <VerdictMark :answer="v.answer" />
            </summary>
            <div class="note border-l border-rule py-1 pl-3">
              <p v-for="reason in v.reasons" :key="reason">{{ reason }}</p>
              <p v-if="v.remedy" class="text-ink">{{ v.remedy }}</p>
              <p v-if="v.quote" class="quote mt-1 border-l-0 pl-0">“{{ v.quote }}”{{ v.clause ? ` (${v.clause})` : '' }}</p>
              <p v-if="v.duties.length > 0" class="mt-1">In return: {{ v.duties.join(' ') }}</p>
            </div>
          </details>
        </li>
      </ul>
      <p class="note mt-1">
        {{ LEVEL[face.embedding.level] }}{{ face.embedding.noSubsetting ? ' It may not be cut down to fewer characters.' : ''
        }}{{ face.embedding.bitmapOnly ? ' Only bitmaps of it may be embedded.' : '' }} (fsType)
      </p>
      <ul v-if="face.companions.length > 0" class="mt-2">
        <li v-for="c in face.companions.slice(0, 6)" :key="c.id" class="note truncate">
          <a class="link" :href="addressOf(routes.downloadCompanion, { params: { companionId: c.id } })" download>{{
            c.name.split('/').pop()
          }}</a>, {{ c.kind }}{{ c.receipt && c.kind !== 'receipt' ? ' and receipt' : ''
          }}{{ c.belongs === false ? ', not for this face' : '' }}{{ c.unread && c.kind !== 'picture' ? ', could not be read' : '' }}
        </li>
      </ul>
    </section>

    <section aria-labelledby="q-write">
      <h3 id="q-write">Can it write it?</h3>
      <p class="mt-1">
        {{ count(face.codePoints, 'character') }}, {{ count(face.glyphCount, 'glyph')
        }}{{ scriptsFull.length > 0 ? `: ${list(scriptsFull, 6)}` : '' }}.
      </p>
      <p v-for="b in face.coverage?.broken ?? []" :key="b.name" class="mt-1 border-l-2 border-no bg-no-pale px-3 py-1">
        It has the letters of {{ b.name }}, and they do not join as they must: {{ b.sample }}.
      </p>
      <ul v-if="own.length > 0" class="mt-1 flex flex-col">
        <li v-for="o in own" :key="o.tag" class="flex items-baseline justify-between gap-3">
          <span class="text-note">{{ o.name }}</span>
          <span v-if="o.level === 'full'" class="note text-right"
            >yes{{ o.complete ? `, ${o.complete.comesOut ? 'also' : 'not'} with ${o.complete.what}` : ''
            }}{{ o.marks.length > 0 ? `, without ${o.marks.slice(0, 6).join(' ')}` : '' }}</span
          >
          <span v-else-if="o.level === 'near'" class="note text-right text-ask">nearly, {{ o.lacks }}</span>
          <span v-else class="note text-no">no</span>
        </li>
      </ul>
      <p v-if="full.length > 0" class="note mt-1">
        {{ count(full.length, 'language') }} in full. About {{ people(face.coverage!.reach.atLeast) }} to
        {{ people(face.coverage!.reach.atMost) }} people use them (CLDR estimate; languages overlap); official in
        {{ count(face.coverage!.reach.officialIn, 'country', 'countries') }} and territories.
      </p>
      <Disclosure v-if="full.length + near.length > 0" v-slot="{ open }">
        <DisclosureButton class="link mt-1 text-note">{{ open ? 'Less' : 'All languages' }}</DisclosureButton>
        <DisclosurePanel class="note mt-1">
          <p>{{ full.map((l) => l.name).join(', ') }}.</p>
          <p v-if="near.length > 0" class="mt-2 font-semibold">Nearly</p>
          <p v-for="l in near" :key="l.tag">{{ l.name }}, {{ lackOf(l) }}</p>
        </DisclosurePanel>
      </Disclosure>
      <RouterLink class="link mt-1 block text-note" :to="{ path: '/library/characters', query: { face: face.id } }"
        >All characters</RouterLink
      >
      <RouterLink class="link mt-1 block text-note" :to="{ path: '/library/text', query: { faces: face.id } }"
        >Check a text of yours</RouterLink
      >
    </section>

    <section aria-labelledby="q-where">
      <h3 id="q-where">Where is it?</h3>
      <p v-if="face.installs.length === 0" class="mt-1">Only here.</p>
      <ul v-else class="mt-1">
        <li v-for="i in face.installs" :key="i.id">
          <RouterLink class="link" to="/places">{{ i.place }}</RouterLink>
          <span class="note block"
            >{{ i.format.toUpperCase() }}, {{ size(i.bytes) }}, put there by {{ i.installedBy }} on {{ when(i.installedAt) }}</span
          >
        </li>
      </ul>
    </section>

    <section aria-labelledby="q-hand">
      <h3 id="q-hand">What do I hand over?</h3>
      <p class="mt-1">
        <RouterLink class="link" :to="{ path: '/handover', query: { faces: face.id } }">Web kit</RouterLink>
        <span class="note">WOFF2, style sheet, terms, how-to</span>
      </p>
      <p class="mt-1">
        <RouterLink class="link" :to="{ path: '/foundry', query: { faces: face.id } }">Convert it</RouterLink>
        <span class="note">other outlines, fewer characters, an instance</span>
      </p>
      <p class="mt-1">
        <RouterLink class="link" :to="{ path: '/foundry/words', query: { face: face.id } }">Words as shapes</RouterLink>
        <span class="note">for cutters, signs and logos</span>
      </p>
      <p class="mt-1">
        <a class="link" :href="asAddress('woff2')" download>WOFF2</a> · <a class="link" :href="asAddress('woff')" download>WOFF</a> ·
        <a class="link" :href="asAddress(sfnt)" download>{{ sfnt.toUpperCase() }}</a>
      </p>
      <ul class="mt-1">
        <li v-for="f in face.files" :key="f.id" class="note truncate">
          <a class="link" :href="fileAddress(f.id)" download :title="f.name">{{ f.name }}</a>, {{ size(f.bytes)
          }}{{ f.leading && face.files.length > 1 ? ', leads' : '' }}
        </li>
      </ul>
    </section>
  </div>
</template>
