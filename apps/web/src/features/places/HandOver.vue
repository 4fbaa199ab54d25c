<script setup lang="ts">
import { USE_WORDS, type Handover } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import { addressOf, call, routes, sentence } from '../../platform/api';
import GoAhead from './GoAhead.vue';
import LiveText from '../faces/LiveText.vue';
import VerdictMark from '../licenses/VerdictMark.vue';
import { useLibrary } from '../library/library';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';
import WordChoice from '../../platform/WordChoice.vue';
import { count, when } from '../../platform/words';

/** A web kit leaves the house: what it takes is asked as at a delivery, and what is said is kept. */
const { several } = useAddress();
const router = useRouter();
const library = useLibrary();
const session = useSession();
const voice = useVoice();
const checks = ref<Handover[] | null>(null);
const problem = ref('');
const busy = ref(false);
/** The kit that was made; how its files lie can be chosen anew each time it is fetched. */
const kitId = ref('');
const layout = ref<keyof typeof LAYOUTS>('siblings');
const notes = ref<Record<string, string>>({});
const override = ref<Record<string, boolean>>({});
const LAYOUTS = { siblings: 'two folders side by side', nested: 'fonts within css', flat: 'all in one folder' };
const TREES = {
  siblings: 'css/\n  fonts.css\nfonts/\n  your-face.woff2',
  nested: 'css/\n  fonts.css\n  fonts/\n    your-face.woff2',
  flat: 'fonts.css\nyour-face.woff2',
};
const made = computed(() =>
  kitId.value ? addressOf(routes.getKit, { params: { kitId: kitId.value }, query: { layout: layout.value } }) : '',
);
const faceIds = computed(() => several('faces'));
const goes = (c: Handover): boolean => c.answer !== 'no' || override.value[c.faceId] === true;
const going = computed(() => checks.value?.filter(goes) ?? []);
const staying = computed(() => checks.value?.filter((c) => !goes(c)) ?? []);
const lacksNote = computed(() => going.value.some((c) => c.answer !== 'yes' && !notes.value[c.faceId]?.trim()));

let turn = 0;
watch(
  () => faceIds.value.join(','),
  async () => {
    const mine = ++turn;
    checks.value = null;
    problem.value = '';
    kitId.value = '';
    if (faceIds.value.length === 0) return;
    try {
      const found = await call(routes.checkKit, { body: { faceIds: faceIds.value } });
      if (mine === turn) checks.value = found;
    } catch (error) {
      if (mine === turn) problem.value = sentence(error);
    }
  },
  { immediate: true },
);

function open(c: Handover): void {
  const licenseId = c.verdicts[0]?.licenseId;
  const family = library.faces.get(c.faceId)?.family;
  void router.push(
    licenseId ? `/licenses/${licenseId}` : { path: '/licenses/new', query: family ? { family: family.id } : { faces: c.faceId } },
  );
}

async function make(): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    const kit = await call(routes.createKit, {
      body: {
        faces: going.value.map((c) => ({
          faceId: c.faceId,
          statement: c.answer === 'no' ? c.overrideStatement : c.statement,
          note: notes.value[c.faceId]?.trim() ?? '',
          override: c.answer === 'no',
        })),
      },
    });
    kitId.value = kit.id;
    voice.say('The kit is made and the statement kept. The download begins.');
    const link = document.createElement('a');
    link.href = made.value;
    link.download = '';
    link.click();
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div class="flex h-full max-lg:block">
    <div class="min-w-0 flex-1 overflow-y-auto px-6 py-6 max-sm:px-4">
      <h1>Hand it to a web builder</h1>
      <p class="mt-1 text-soft">
        The kit holds WOFF2, a style sheet in which the reader’s own face stands in at the same size until yours arrives, lines for the page
        and the server, a test page, a how-to, and the texts of the license that each answer rests on. It puts a changed container on a
        website and passes the file on, so all three are asked.
      </p>
      <p v-if="problem" role="alert" class="mt-4 border-l-2 border-no bg-no-pale px-3 py-2">{{ problem }}</p>
      <p v-if="faceIds.length === 0" class="mt-5">
        No face was chosen. <RouterLink class="link" to="/library">Choose one in the library</RouterLink>
      </p>
      <p v-else-if="checks === null && !problem" class="mt-5 text-soft">Checking …</p>
      <ol v-if="checks" class="mt-5 border-t border-rule">
        <li v-for="c in checks" :key="c.faceId" class="border-b border-rule py-5">
          <p class="overflow-hidden text-[40px] leading-[56px] whitespace-nowrap">
            <LiveText v-if="library.faces.get(c.faceId)" :face="library.faces.get(c.faceId)!.face" :text="c.face" />
          </p>
          <div class="mt-1 flex flex-wrap items-center gap-x-4">
            <span class="font-semibold">{{ c.face }}</span><VerdictMark :answer="c.answer" label="May we" /><span class="note">{{
              c.licenseName ?? 'no license on record'
            }}</span>
          </div>
          <ul class="mt-2">
            <li
              v-for="v in c.verdicts"
              :key="v.use"
              class="grid grid-cols-[9rem_6.5rem_minmax(0,1fr)] items-baseline gap-3 border-t border-rule py-1 max-sm:grid-cols-[1fr_auto]"
            >
              <span>{{ USE_WORDS[v.use].label }}</span><VerdictMark class="justify-self-start" :answer="v.answer" />
              <span class="note max-sm:col-span-2">{{ v.reasons[0] }}</span>
            </li>
          </ul>
          <p v-for="n in c.notes" :key="n" class="mt-2 border-l-4 border-ask bg-ask-pale px-3 py-1">{{ n }}</p>
          <button v-if="c.answer !== 'yes' && session.canEdit" type="button" class="press-quiet mt-2" @click="open(c)">
            {{ c.verdicts[0]!.licenseId ? 'Open the license' : 'Record the license' }}
          </button>
          <GoAhead
            v-model:override="override[c.faceId]"
            v-model:note="notes[c.faceId]"
            :denied="c.answer === 'no'"
            :asks-why="goes(c) && c.answer !== 'yes'"
          />
        </li>
      </ol>
    </div>
    <aside
      aria-label="How the files lie, and the statement of rights"
      class="w-[340px] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-6 max-lg:w-full max-lg:border-t max-lg:border-l-0"
    >
      <h2>How shall the files lie?</h2>
      <WordChoice v-model="layout" class="mt-1" :words="LAYOUTS" label="How the files of the kit lie" />
      <pre class="note mt-2 font-mono">{{ TREES[layout] }}</pre>
      <h2 class="mt-6">What you state</h2>
      <template v-if="going.length > 0">
        <p class="note mt-1">This is what is written down, in these words, with your name and the date.</p>
        <p v-for="c in going" :key="c.faceId" class="quote mt-4">{{ c.answer === 'no' ? c.overrideStatement : c.statement }}</p>
        <p class="mt-4">
          {{ session.session?.account?.name }}<span class="note block">{{ when(new Date().toISOString()) }}</span>
        </p>
        <button v-if="session.canEdit" type="button" class="press mt-4 w-full justify-center" :disabled="busy || lacksNote" @click="make">
          {{ busy ? 'Making the kit …' : 'State this and make the kit' }}
        </button>
        <p v-else class="note mt-4">An editor or an owner makes the kit.</p>
        <p v-if="made" class="mt-3"><a class="link" :href="made" download>Download it again</a></p>
        <p v-if="lacksNote" class="note mt-2 text-ask">Not every license says yes to this. Write down on the left why you go ahead.</p>
      </template>
      <p v-if="staying.length > 0" class="note mt-3">
        {{ count(staying.length, 'face stays', 'faces stay') }} out of the kit: the answer is No.
      </p>
    </aside>
  </div>
</template>
