import { defineStore } from 'pinia';
import { ref } from 'vue';

/** What just happened, shown for a while and read out by screen readers. */
export const useVoice = defineStore('voice', () => {
  const message = ref('');
  const kind = ref<'told' | 'fault'>('told');
  let timer: ReturnType<typeof setTimeout> | undefined;

  function say(text: string, as: 'told' | 'fault' = 'told'): void {
    message.value = text;
    kind.value = as;
    clearTimeout(timer);
    timer = setTimeout(() => (message.value = ''), as === 'fault' ? 12_000 : 6_000);
  }
  function hush(): void {
    message.value = '';
  }
  return { message, kind, say, hush };
});
