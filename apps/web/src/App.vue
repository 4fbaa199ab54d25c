<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { useRoute } from 'vue-router';
import { keepFocus } from './platform/focus';
import FaceTray from './features/library/FaceTray.vue';
import KeyList from './KeyList.vue';
import RunningHead from './RunningHead.vue';
import WorkStrip from './WorkStrip.vue';
import { fetchFile, isSlowFile, sentence } from './platform/api';
import { useSession } from './features/accounts/session';
import { useTray } from './features/library/tray';
import { useVoice } from './platform/voice';

const session = useSession();
const voice = useVoice();
const tray = useTray();
const route = useRoute();
const keysOpen = ref(false);
const inside = computed(() => session.session?.workspace && !route.meta.open);

function onKey(event: KeyboardEvent): void {
  const target = event.target as HTMLElement;
  if (event.ctrlKey || event.metaKey || event.altKey || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) return;
  if (event.key === '?' && inside.value) keysOpen.value = true;
  if (event.key === '/' && inside.value) {
    document.getElementById('search')?.focus();
    event.preventDefault();
  }
}
/** Files that are made when they are asked for: a task that can be watched and stopped, not a page that stays empty. */
function onPress(event: MouseEvent): void {
  const link = (event.target as Element).closest?.('a[download]');
  if (!(link instanceof HTMLAnchorElement) || event.button !== 0 || event.ctrlKey || event.metaKey || event.shiftKey) return;
  if (!isSlowFile(link.href)) return;
  event.preventDefault();
  fetchFile(link.href).catch((error: unknown) => voice.say(sentence(error), 'fault'));
}
let letFocusGo: (() => void) | undefined;
onMounted(() => {
  addEventListener('keydown', onKey);
  addEventListener('click', onPress);
  letFocusGo = keepFocus(document.getElementById('sheet')!);
});
onBeforeUnmount(() => {
  removeEventListener('keydown', onKey);
  removeEventListener('click', onPress);
  letFocusGo?.();
});
</script>

<template>
  <div class="flex h-full flex-col">
    <a href="#sheet" class="press absolute top-2 left-2 z-50 -translate-y-20 focus:translate-y-0">Skip to the page</a>
    <RunningHead v-if="inside" @keys="keysOpen = true" />
    <main id="sheet" tabindex="-1" class="min-h-0 flex-1 overflow-y-auto outline-none">
      <RouterView />
    </main>
    <WorkStrip v-if="inside" />
    <FaceTray v-if="inside && tray.faces.length > 0" />
    <div aria-live="polite" role="status">
      <p
        v-if="voice.message"
        class="flex items-baseline justify-between gap-4 border-l-4 bg-ink px-6 py-2 text-paper"
        :class="voice.kind === 'fault' ? 'border-no' : 'border-action'"
      >
        <span class="min-w-0 flex-1">{{ voice.message }}</span>
        <button v-if="voice.offer" type="button" class="font-semibold underline" @click="voice.offer?.run()">
          {{ voice.offer.label }}
        </button>
        <button type="button" class="underline" @click="voice.hush()">Close</button>
      </p>
    </div>
    <KeyList :open="keysOpen" @close="keysOpen = false" />
  </div>
</template>
