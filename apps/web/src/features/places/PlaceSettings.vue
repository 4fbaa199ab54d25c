<script setup lang="ts">
import type { PlaceSetting } from '@orderly-glyph/schema';

/** The name of a place and what its kind asks for. `keep`: it is here already, and a secret left empty stays. */
defineProps<{ settings: readonly PlaceSetting[]; keep?: boolean }>();
const values = defineModel<{ name: string; address: string; key: string; user: string; hostKey: string; page: string }>({ required: true });
const MOST = { address: 300, server: 300, secret: 200, folder: 80, word: 200, lines: 8000 } as const;
const TYPE = { address: 'url', server: 'text', secret: 'password', folder: 'text', word: 'text' } as const;
type Line = PlaceSetting & { kind: keyof typeof TYPE };
const isSecret = (s: PlaceSetting): boolean => s.kind === 'secret' || s.kind === 'lines';
</script>

<template>
  <div class="grid gap-4 sm:grid-cols-3">
    <label>Name<input v-model="values.name" class="field" required maxlength="120" :placeholder="keep ? '' : 'our-shop.example'" /></label>
    <label v-for="s in settings" :key="s.id"
      >{{ s.label
      }}<textarea
        v-if="s.kind === 'lines'"
        v-model="values[s.id]"
        class="field code"
        rows="3"
        :maxlength="MOST.lines"
        :placeholder="s.example"
        :required="!keep && !s.optional"
        autocomplete="off"
        spellcheck="false"
      ></textarea
      ><input
        v-else
        v-model="values[s.id]"
        class="field"
        :type="TYPE[(s as Line).kind]"
        :maxlength="MOST[s.kind]"
        :placeholder="s.example"
        :required="!s.optional && (!keep || !isSecret(s))"
        :autocomplete="isSecret(s) ? 'off' : undefined"
      /><span v-if="keep && isSecret(s)" class="note">Left empty, it stays as it is</span
      ><span v-else-if="s.hint" class="note">{{ s.hint }}</span></label
    >
  </div>
</template>
