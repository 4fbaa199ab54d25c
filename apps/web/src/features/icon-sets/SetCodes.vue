<script setup lang="ts">
import type { IconSet } from '@orderly-glyph/schema';
import IconMark from './IconMark.vue';
import { uPlus } from './icon-set';

/** Names and codes of all drawings, and code points that stay reserved. */
defineProps<{ set: IconSet }>();
const chosen = defineModel<string[]>({ required: true });
</script>

<template>
  <div class="overflow-x-auto">
    <table class="w-full border-collapse text-left">
      <thead class="note border-b border-rule-strong">
        <tr>
          <th class="py-1 pr-4"><span class="sr-only">Drawing</span></th>
          <th class="pr-4">Name</th>
          <th class="pr-4">Code point</th>
          <th class="pr-4">Class</th>
          <th class="pr-4">Words</th>
          <th class="pr-4">Characters</th>
          <th>Older names</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="d in set.drawings" :key="d.id" class="border-b border-rule" :class="chosen.includes(d.id) ? 'bg-action-pale' : ''">
          <td class="py-1 pr-4"><IconMark :drawing="d" :size="24" /></td>
          <td class="pr-4">
            <button type="button" class="link small-target" @click="chosen = [d.id]">{{ d.name }}</button>
          </td>
          <td class="code pr-4">{{ d.codePoint === null ? '' : uPlus(d.codePoint) }}{{ d.locked ? '' : ' (next)' }}</td>
          <td class="code pr-4">{{ set.facts.prefix }}{{ d.name }}</td>
          <td class="pr-4">{{ d.words.join(', ') }}</td>
          <td class="pr-4">{{ d.characters.map((c) => String.fromCodePoint(c)).join(' ') }}</td>
          <td>{{ d.aliases.join(', ') }}</td>
        </tr>
        <tr v-for="r in set.reserved" :key="r.codePoint" class="border-b border-rule text-soft">
          <td class="py-1 pr-4"></td>
          <td class="pr-4">{{ r.name }}</td>
          <td class="code pr-4">{{ uPlus(r.codePoint) }}</td>
          <td colspan="4">Gone; its code point stays reserved.</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
