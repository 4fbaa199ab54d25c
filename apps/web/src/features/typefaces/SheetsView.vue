<script setup lang="ts">
import { routes, type CharacterWish, type ReadPageAnswer } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { call } from '../../platform/api';
import { count, when } from '../../platform/words';
import { useSession } from '../accounts/session';
import { sayGlyph, type FaceAtHand } from './typeface';
import PagePicture from './PagePicture.vue';
import WishForm from './WishForm.vue';

/** Sheets to draw on, and what came back of them. */
const props = defineProps<{ at: FaceAtHand }>();
const session = useSession();
const face = computed(() => props.at.face.value!);
const paper = ref<'A4' | 'Letter'>('A4');
const em = ref(14);
const which = ref<'all' | 'open' | 'chosen'>('all');
const some = ref('');
const changing = ref(false);
const wish = ref<CharacterWish>(face.value.wish);
const boxes = computed(() => [...some.value.replace(/[\s,]/g, '')].map((character) => ({ character, variant: 0 })));
async function make(): Promise<void> {
  const next = await props.at.carryOut(
    () =>
      call(routes.makeSheet, {
        params: { typefaceId: face.value.id },
        body: {
          paper: paper.value,
          em: em.value,
          boxes: which.value === 'chosen' ? boxes.value : which.value,
          words: which.value !== 'chosen',
        },
      }),
    'Laying it out …',
  );
  if (next) props.at.takeOver(next);
}
async function keepWish(): Promise<void> {
  const next = await props.at.carryOut(() =>
    call(routes.changeTypeface, {
      params: { typefaceId: face.value.id },
      body: { facts: face.value.facts, wish: wish.value, version: face.value.version },
    }),
  );
  if (!next) return;
  props.at.takeOver(next);
  changing.value = false;
}
/** Letters whose ink reaches over the edges of their boxes: kept as they are unless somebody cuts them. */
const crossing = (page: ReadPageAnswer): string[] =>
  page.boxes
    .filter((b) => b.findings.some((f) => f.code === 'crosses'))
    .flatMap((b) => face.value.glyphs.find((g) => g.character === b.character && g.variant === b.variant)?.letterId ?? []);
async function cut(page: ReadPageAnswer): Promise<void> {
  const ids = crossing(page);
  if (await props.at.act({ act: 'step', ids, step: { step: 'cut' } }, `${count(ids.length, 'letter')} cut off.`))
    page.boxes.forEach((b) => (b.findings = b.findings.filter((f) => f.code !== 'crosses')));
}
const nameOf = (c: { character: string; variant: number }): string => sayGlyph(c);
const TONE: Record<string, string> = { stops: 'text-no', look: 'text-ask', note: 'text-soft' };
</script>

<template>
  <section class="mt-4 max-w-3xl">
    <h2>What it shall have</h2>
    <template v-if="!changing">
      <p class="mt-1">
        {{ count(face.glyphs.length + face.missing.length, 'character') }};
        {{ face.open.length === 0 ? 'every box has its letter' : `${count(face.open.length, 'box', 'boxes')} still to be drawn` }}.
      </p>
      <p v-if="face.open.length > 0" class="note mt-1 break-words">
        {{ face.open.slice(0, 80).map(nameOf).join(' ') }}{{ face.open.length > 80 ? ' …' : '' }}
      </p>
      <button v-if="session.canEdit" type="button" class="link mt-1" @click="((wish = face.wish), (changing = true))">Change this</button>
    </template>
    <form v-else class="mt-2" @submit.prevent="keepWish">
      <WishForm v-model="wish" />
      <p class="mt-4 flex gap-3">
        <button class="press">Keep it</button><button type="button" class="press-quiet" @click="changing = false">Leave it</button>
      </p>
    </form>
  </section>
  <section v-if="session.canEdit" class="mt-6 max-w-3xl border-t border-rule pt-4">
    <h2>A sheet to draw on</h2>
    <form class="mt-2 flex flex-wrap items-end gap-4" @submit.prevent="make">
      <label class="block"
        ><span class="note">Boxes</span
        ><select v-model="which" class="field">
          <option value="all">all</option>
          <option value="open" :disabled="face.open.length === 0">those still open</option>
          <option value="chosen">some</option>
        </select></label
      >
      <label v-if="which === 'chosen'" class="block"
        ><span class="note">Letters to draw again</span><input v-model="some" class="field" required maxlength="200"
      /></label>
      <label class="block"
        ><span class="note">Paper</span
        ><select v-model="paper" class="field">
          <option>A4</option>
          <option>Letter</option>
        </select></label
      >
      <label class="block"
        ><span class="note">Height of an em</span
        ><select v-model="em" class="field">
          <option :value="10">10 mm, small</option>
          <option :value="14">14 mm</option>
          <option :value="20">20 mm</option>
          <option :value="26">26 mm, brush</option>
        </select></label
      >
      <button class="press-quiet" :disabled="at.busy.value !== ''">Lay out a sheet</button>
    </form>
    <ul class="mt-3">
      <li v-for="s in face.sheets" :key="s.id" class="flex flex-wrap items-baseline gap-x-4 border-t border-rule py-2">
        <span>{{ s.paper }}, {{ s.em }} mm, {{ count(s.boxes, 'box', 'boxes') }} on {{ count(s.pages, 'page') }}</span>
        <a class="link" :href="at.sheetAddress(s.id, 'pdf')" download
          >PDF to print<span class="sr-only">: {{ s.boxes }} boxes</span></a
        >
        <span class="note"
          >To draw in:
          <template v-for="p in s.pages" :key="p"
            ><a class="link" :href="at.sheetAddress(s.id, 'png', p)" download>PNG{{ s.pages > 1 ? ` ${p}` : '' }}</a
            >, <a class="link" :href="at.sheetAddress(s.id, 'svg', p)" download>SVG{{ s.pages > 1 ? ` ${p}` : '' }}</a
            >{{ p < s.pages ? ', ' : '' }}</template
          ></span
        >
        <span class="note ml-auto">{{ when(s.madeAt) }}</span>
      </li>
    </ul>
    <p v-if="face.sheets.length > 0" class="note mt-2">
      Print at 100%. Draw with a dark pen with a hard edge, keep to the lines and off the dots. Pages come back in any order, turned as they
      are, even years later.
    </p>
  </section>
  <section v-if="at.pictures.value.length > 0" class="mt-6 max-w-3xl border-t border-rule pt-4" aria-live="polite">
    <h2>What came back</h2>
    <div v-for="p in at.pictures.value" :key="p.name" class="mt-3">
      <h3>{{ p.name }}</h3>
      <p v-if="p.refused" class="text-no">{{ p.refused }}</p>
      <div v-for="(page, i) in p.pages" :key="i" class="mt-1">
        <p v-if="page.page > 0">
          Page {{ page.page }} of {{ page.pages }}: {{ count(page.taken.length, 'letter')
          }}{{ page.words ? ', and the spacing of the words' : '' }}.
        </p>
        <p v-for="f in page.findings" :key="f.code" :class="TONE[f.severity]">{{ f.message }}</p>
        <ul v-if="page.boxes.some((b) => b.findings.some((f) => f.code !== 'empty'))" class="ml-4">
          <template v-for="b in page.boxes" :key="nameOf(b)">
            <li v-for="f in b.findings.filter((x) => x.code !== 'empty')" :key="f.code" :class="TONE[f.severity]">
              {{ nameOf(b) }}: {{ f.message }}
            </li>
          </template>
        </ul>
        <p v-if="session.canEdit && crossing(page).length > 0" class="mt-1">
          <button type="button" class="press-quiet" @click="cut(page)">
            Cut {{ crossing(page).length === 1 ? 'it' : 'them' }} off at the edges of the
            {{ crossing(page).length === 1 ? 'box' : 'boxes' }}
          </button>
        </p>
        <PagePicture :page="page" />
        <p v-if="page.boxes.some((b) => b.findings.some((f) => f.code === 'empty'))" class="note">
          Nothing was drawn in:
          {{
            page.boxes
              .filter((b) => b.findings.some((f) => f.code === 'empty'))
              .map(nameOf)
              .join(' ')
          }}
        </p>
      </div>
    </div>
  </section>
</template>
