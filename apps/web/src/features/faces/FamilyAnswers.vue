<script setup lang="ts">
import { isSure, KIND_LABELS, USES, USE_WORDS } from '@orderly-glyph/schema';
import { computed } from 'vue';
import { useLibrary, type Family } from '../library/library';
import { useSession } from '../accounts/session';
import { count, list, when } from '../../platform/words';
import VerdictMark from '../licenses/VerdictMark.vue';
import FaceHistory from '../places/FaceHistory.vue';

/** The five questions, answered for a family as a whole. */
const props = defineProps<{ family: Family }>();
const library = useLibrary();
const session = useSession();

const kind = computed(() => {
  const { kind: k, confidence } = props.family;
  return k === null
    ? 'Its kind is not known'
    : isSure(confidence)
      ? `A ${KIND_LABELS[k]} family`
      : `Perhaps a ${KIND_LABELS[k]} family; we are not sure`;
});
const weights = computed(() => {
  const all = props.family.faces.flatMap((f) => f.ranges.wght ?? [f.weightClass, f.weightClass]);
  const [low, high] = [Math.min(...all), Math.max(...all)];
  return low === high ? `weight ${low}` : `weights ${low} to ${high}`;
});
const sloped = computed(() => props.family.faces.some((f) => f.italic));
/** Where its styles differ in rights, no answer of one stands for all. */
const split = computed(() => props.family.groups.length > 1);
const own = computed(() =>
  library.ownLanguages.map((tag) => ({ tag, name: library.languageNames.get(tag) ?? tag, yes: props.family.languages.includes(tag) })),
);
const faceIds = computed(() => props.family.faces.map((f) => f.id).join(','));
</script>

<template>
  <div class="flex flex-col gap-5">
    <section aria-labelledby="fq-what">
      <h2 id="fq-what" class="text-[17px]">What is it?</h2>
      <p class="mt-1">
        {{ kind }}, {{ weights }}{{ sloped ? ', with slanted styles' : '' }}{{ family.axes.length > 0 ? ', variable' : ''
        }}{{ family.color ? ', colored' : '' }}. {{ list(family.formats.map((f) => f.toUpperCase())) }}.
      </p>
    </section>
    <section aria-labelledby="fq-may">
      <h2 id="fq-may" class="text-[17px]">May we?</h2>
      <p v-if="split" class="mt-1">
        Its styles are under different terms; these answers are those of {{ family.groups[0]!.licenseName ?? 'no license on record' }}.
      </p>
      <p v-else class="mt-1">
        {{ family.licenseName ?? 'Nothing on record.'
        }}{{ family.licenseName && family.licenseEndsOn ? `, until ${when(family.licenseEndsOn)}` : '' }}
        <RouterLink
          v-if="family.licenseName === null && session.canEdit"
          class="link"
          :to="{ path: '/licenses/new', query: { family: family.id } }"
          >Record the license</RouterLink
        >
      </p>
      <ul class="mt-1">
        <li v-for="use in USES" :key="use" class="flex items-center justify-between gap-3 py-0.5">
          <span class="text-note">{{ USE_WORDS[use].label }}</span><VerdictMark :answer="family.verdicts[use] ?? 'ask'" />
        </li>
      </ul>
      <RouterLink class="link text-note" :to="{ path: '/licenses/uses', query: { face: family.leadFaceId } }">Why</RouterLink>
    </section>
    <section aria-labelledby="fq-write">
      <h2 id="fq-write" class="text-[17px]">Can it write it?</h2>
      <p class="mt-1">
        {{ count(family.languages.length, 'language') }} in full<template v-if="own.length > 0"
          >; of yours
          {{
            own.every((l) => l.yes)
              ? `all ${own.length}`
              : own.some((l) => l.yes)
                ? list(
                    own.filter((l) => l.yes).map((l) => l.name),
                    8,
                  )
                : 'none'
          }}</template
        >.
      </p>
    </section>
    <section aria-labelledby="fq-where">
      <h2 id="fq-where" class="text-[17px]">Where is it?</h2>
      <p class="mt-1">{{ family.places.length === 0 ? 'Only here.' : `${list(family.places)}.` }}</p>
      <FaceHistory :face-id="family.leadFaceId" />
    </section>
    <section aria-labelledby="fq-hand">
      <h2 id="fq-hand" class="text-[17px]">What do I hand over?</h2>
      <p class="mt-1 flex flex-wrap gap-x-4">
        <RouterLink class="link" :to="{ path: '/handover', query: { faces: faceIds } }">Web kit</RouterLink>
        <RouterLink class="link" :to="{ path: '/places/check', query: { faces: family.leadFaceId } }">Check for a place</RouterLink>
        <RouterLink class="link" :to="{ path: '/library/proof', query: { faces: family.leadFaceId } }">Proof sheet</RouterLink>
      </p>
    </section>
  </div>
</template>
