<script setup lang="ts">
import type { Audit } from '@orderly-glyph/schema';
import { USE_WORDS } from '@orderly-glyph/schema';
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, ref, watch } from 'vue';
import { addressOf, call, routes, sentence } from '../../platform/api';
import { useAddress } from '../../platform/address';
import VerdictMark from '../licenses/VerdictMark.vue';
import WordChoice from '../../platform/WordChoice.vue';
import { count, when } from '../../platform/words';

const { param, put } = useAddress();
const audit = ref<Audit | null>(null);
const problem = ref('');
const today = new Date().toLocaleDateString('sv-SE');
const day = computed(() => (/^\d{4}-\d{2}-\d{2}$/.test(param('day')) ? param('day') : today));
const shown = computed(() =>
  (audit.value?.rows ?? []).filter((r) => (param('show') === '' ? true : param('show') === 'problems' ? r.problem : r.place !== null)),
);
watch(
  day,
  async (wanted) => {
    problem.value = '';
    try {
      const found = await call(routes.getAudit, { query: { day: wanted } });
      if (wanted === day.value) audit.value = found;
    } catch (error) {
      if (wanted === day.value) problem.value = sentence(error);
    }
  },
  { immediate: true },
);
const file = (as: 'pdf' | 'csv' | 'json'): string => addressOf(routes.downloadAudit, { query: { day: day.value, as } });
const SHOW = { '': 'Everything', places: 'What is somewhere', problems: 'Problems' } as const;
const scroller = ref<HTMLElement | null>(null);
const virtual = useVirtualizer(
  computed(() => ({ count: shown.value.length, getScrollElement: () => scroller.value, estimateSize: () => 92, overscan: 6 })),
);
const another = computed(() => audit.value !== null && audit.value.day !== audit.value.today);
</script>

<template>
  <div class="flex h-full flex-col">
    <div class="border-b border-rule px-6 pt-4 pb-3 max-sm:px-4">
      <RouterLink class="link text-note" to="/licenses">Licenses</RouterLink>
      <h1>Audit of rights</h1>
      <p class="text-soft">Every face, where it is used, and what its licenses say today and on a day you choose. Problems come first.</p>
      <div class="mt-2 flex flex-wrap items-end gap-x-6 gap-y-2">
        <label
          >Also on<input type="date" class="field" :value="day" @change="put({ day: ($event.target as HTMLInputElement).value })"
        /></label>
        <WordChoice :model-value="param('show')" :words="SHOW" label="Which rows" @update:model-value="put({ show: $event })" />
        <p class="ml-auto flex gap-2 max-sm:ml-0">
          <a v-for="as in ['pdf', 'csv', 'json'] as const" :key="as" class="press-quiet" :href="file(as)" download>{{
            as.toUpperCase()
          }}</a>
        </p>
      </div>
    </div>
    <p v-if="problem" class="p-6">{{ problem }}</p>
    <p v-else-if="audit === null" class="p-6 text-soft">Weighing every face …</p>
    <template v-else>
      <p class="border-b border-rule px-6 py-2 max-sm:px-4" aria-live="polite">
        {{
          audit.problems === 0
            ? 'Nothing is in use anywhere without a right.'
            : `${count(audit.problems, 'face is', 'faces are')} used without a settled right${another ? `, today or on ${when(audit.day)}` : ''}.`
        }}
        <span class="note">{{ count(shown.length, 'entry', 'entries') }}</span>
      </p>
      <p v-if="shown.length === 0" class="p-6 text-soft">
        {{ audit.rows.length === 0 ? 'There is no face here yet.' : 'Nothing fits this.' }}
      </p>
      <div
        v-else
        ref="scroller"
        class="min-h-0 flex-1 overflow-y-auto px-6 max-sm:px-4"
        tabindex="0"
        role="region"
        aria-label="Entries of the audit"
      >
        <ul class="relative" :style="{ height: `${virtual.getTotalSize()}px` }">
          <li
            v-for="v in virtual.getVirtualItems()"
            :key="String(v.key)"
            :ref="(el) => virtual.measureElement(el as HTMLElement)"
            :data-index="v.index"
            class="absolute inset-x-0 top-0 flex gap-4 border-b border-rule py-2.5 max-sm:flex-col max-sm:gap-1"
            :style="{ transform: `translateY(${v.start}px)` }"
          >
            <div class="w-72 shrink-0 max-sm:w-auto">
              <RouterLink class="link block truncate" :to="{ path: '/library', query: { face: shown[v.index]!.faceId } }">{{
                shown[v.index]!.face
              }}</RouterLink>
              <p class="note">
                {{ USE_WORDS[shown[v.index]!.use].label }}, {{ shown[v.index]!.place ?? 'nowhere installed'
                }}{{ shown[v.index]!.since ? `, since ${when(shown[v.index]!.since!)}` : '' }}
              </p>
              <p class="note">
                {{ shown[v.index]!.license ?? 'no license on record'
                }}{{ shown[v.index]!.endsOn ? `, until ${when(shown[v.index]!.endsOn!)}` : '' }}
              </p>
            </div>
            <div class="flex w-60 shrink-0 flex-col items-start gap-1 max-sm:w-auto">
              <VerdictMark :answer="shown[v.index]!.today" label="Today" />
              <VerdictMark v-if="another" :answer="shown[v.index]!.onDay" :label="when(audit.day)" />
            </div>
            <div class="min-w-0 flex-1 text-note">
              <p>{{ shown[v.index]!.reason }}</p>
              <p v-if="another && shown[v.index]!.reasonOnDay !== shown[v.index]!.reason">
                On {{ when(audit.day) }}: {{ shown[v.index]!.reasonOnDay }}
              </p>
              <p v-if="shown[v.index]!.remedy" class="text-soft">{{ shown[v.index]!.remedy }}</p>
              <p v-for="o in shown[v.index]!.overrides" :key="o.at" class="text-no">
                {{ o.person }} went ahead without a right on {{ when(o.at) }}: “{{ o.note }}”
              </p>
            </div>
          </li>
        </ul>
      </div>
    </template>
  </div>
</template>
