import { defineStore } from 'pinia';
import { ref } from 'vue';

/** What just happened, shown for a while and read out by screen readers. */
export const useVoice = defineStore('voice', () => {
  const message = ref('');
  const kind = ref<'told' | 'fault'>('told');
  /** What can be done about it at once, such as taking it back. */
  const offer = ref<{ label: string; run: () => void } | null>(null);
  let timer: ReturnType<typeof setTimeout> | undefined;

  function say(text: string, as: 'told' | 'fault' = 'told', offered: { label: string; run: () => void } | null = null): void {
    message.value = text;
    kind.value = as;
    offer.value = offered;
    clearTimeout(timer);
    timer = setTimeout(() => (message.value = ''), offered ? 20_000 : as === 'fault' ? 12_000 : 6_000);
  }
  /** Copies a text and says so; where the browser does not let us, the text itself is told, to be copied by hand. */
  async function copy(text: string, told: string): Promise<void> {
    try {
      await navigator.clipboard.writeText(text);
      say(told);
    } catch {
      say(`This browser does not let us copy. Mark and copy it yourself: ${text.length > 300 ? `${text.slice(0, 300)} …` : text}`, 'fault');
    }
  }
  function hush(): void {
    message.value = '';
  }
  return { message, kind, offer, say, copy, hush };
});
