<script setup lang="ts">
import type { PlaceSetting } from '@orderly-glyph/schema';

/** The name of a place and what its kind asks for. `keep`: it is here already, and a secret left empty stays. */
defineProps<{ settings: readonly PlaceSetting[]; keep?: boolean }>();
const values = defineModel<{ name: string; address: string; key: string }>({ required: true });
const MOST = { address: 300, secret: 200, folder: 80 } as const;
const TYPE = { address: 'url', secret: 'password', folder: 'text' } as const;
</script>

<template>
  <div class="grid gap-4 sm:grid-cols-3">
    <label>Name<input v-model="values.name" class="field" required maxlength="120" :placeholder="keep ? '' : 'our-shop.example'" /></label>
    <label v-for="s in settings" :key="s.id"
      >{{ s.label
      }}<input
        v-model="values[s.id]"
        class="field"
        :type="TYPE[s.kind]"
        :maxlength="MOST[s.kind]"
        :placeholder="s.example"
        :required="!keep || s.kind !== 'secret'"
        :autocomplete="s.kind === 'secret' ? 'off' : undefined"
      /><span v-if="keep && s.kind === 'secret'" class="note">Left empty, it stays as it is</span
      ><span v-else-if="s.hint" class="note">{{ s.hint }}</span></label
    >
  </div>
</template>
