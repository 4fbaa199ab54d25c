import { defineStore } from 'pinia';
import type { Install } from '@orderly-glyph/schema';
import { ref } from 'vue';
import { addressOf, call, routes, sentence } from '../../platform/api';
import { useLibrary } from '../library/library';
import { useVoice } from '../../platform/voice';

const SECONDS = 10;

/**
 * Faces that are about to come off a place: the live site only changes once ten seconds have passed, so that the wrong press
 * can be taken back. It goes on whatever page is open; closing the window sends what is due at once.
 */
export const useLeaving = defineStore('leaving', () => {
  const voice = useVoice();
  const library = useLibrary();
  const due = ref(new Map<string, ReturnType<typeof setTimeout>>());

  function keep(installId: string): void {
    clearTimeout(due.value.get(installId));
    due.value.delete(installId);
  }
  async function go(install: Install): Promise<void> {
    due.value.delete(install.id);
    try {
      const { changed } = await call(routes.removeInstall, { params: { installId: install.id } });
      library.takeOver(changed);
      voice.say(`${install.face} is off ${install.place}.`);
    } catch (error) {
      voice.say(sentence(error), 'fault');
    }
    // What is at a place may be another even where taking it off failed.
    await library.loadPlaces().catch(() => undefined);
  }
  function takeOff(install: Install): void {
    keep(install.id);
    due.value.set(
      install.id,
      setTimeout(() => void go(install), SECONDS * 1000),
    );
    voice.say(`${install.face} comes off ${install.place} in ${SECONDS} seconds.`, 'told', {
      label: 'Leave it there',
      run: () => {
        keep(install.id);
        voice.say(`${install.face} stays on ${install.place}.`);
      },
    });
  }
  addEventListener('pagehide', () => {
    for (const id of due.value.keys())
      void fetch(addressOf(routes.removeInstall, { params: { installId: id } }), { method: 'DELETE', keepalive: true });
    due.value.clear();
  });
  return { due, takeOff, keep };
});
