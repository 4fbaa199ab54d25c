<script setup lang="ts">
import { useSession } from '../accounts/session';

/** Where the answer is not yes: an owner's own account for a no, and the reason that is kept. */
defineProps<{ denied: boolean; asksWhy: boolean }>();
const override = defineModel<boolean | undefined>('override', { required: true });
const note = defineModel<string | undefined>('note', { required: true });
const session = useSession();
</script>

<template>
  <label v-if="denied && session.isOwner" class="mt-3 flex items-start gap-2"
    ><input v-model="override" type="checkbox" class="accent-action" /><span
      >Go ahead without a right, on my own account.
      <span class="note">Your name and your reason are kept with it and stand in the audit.</span></span
    ></label
  >
  <p v-else-if="denied" class="note mt-2">Only an owner of the workspace can go ahead without a right.</p>
  <label v-if="asksWhy && session.canEdit" class="mt-3 block"
    >Why do you go ahead?<textarea
      v-model="note"
      class="field"
      rows="2"
      maxlength="1000"
      placeholder="Whom you asked and what they said"
    ></textarea>
  </label>
</template>
