import { defineStore } from 'pinia';
import type { Intake } from '@orderly-glyph/schema';
import { ref } from 'vue';
import { call, routes, sentence, upload } from '../../platform/api';
import type { Chosen } from '../../platform/files';
import { useVoice } from '../../platform/voice';

/** What is being sent. It belongs to the application and goes on whatever page is open. */
export const useSending = defineStore('sending', () => {
  const voice = useVoice();
  const now = ref<{ name: string; done: number; total: number; file: number; files: number } | null>(null);
  const problem = ref('');
  let abort: AbortController | null = null;
  const guard = (event: BeforeUnloadEvent): void => event.preventDefault();

  /** Sends everything, one file after the other, then starts the sorting. Returns the intake, or null when it was not sent. */
  async function send(chosen: readonly Chosen[]): Promise<string | null> {
    problem.value = '';
    if (now.value) problem.value = 'Something is being sent already. Wait for its end, or stop it.';
    else if (chosen.length === 0) problem.value = 'There was no file in what you chose.';
    else if (chosen.length > 5000)
      problem.value = `These are ${chosen.length.toLocaleString('en-US')} files; 5,000 is the most at once. Nothing was sent; bring them in in parts.`;
    if (problem.value) return null;
    const total = chosen.reduce((sum, c) => sum + c.file.size, 0);
    const first = chosen[0]!;
    const label = chosen.length === 1 ? first.file.name : first.path.includes('/') ? first.path.split('/')[0]! : `${chosen.length} files`;
    const controller = new AbortController();
    abort = controller;
    let done = 0;
    let intake: Intake | null = null;
    addEventListener('beforeunload', guard);
    try {
      now.value = { name: label, done, total, file: 1, files: chosen.length };
      intake = await call(routes.createIntake, { body: { label: label.slice(0, 160) } });
      for (const [i, c] of chosen.entries()) {
        now.value = { name: c.file.name, done, total, file: i + 1, files: chosen.length };
        const before = done;
        await upload(intake.id, c.path, c.file, (sent) => now.value && (now.value.done = before + sent), controller.signal);
        done += c.file.size;
      }
      await call(routes.startIntake, { params: { intakeId: intake.id } });
      return intake.id;
    } catch (error) {
      const cancelled = error instanceof DOMException && error.name === 'AbortError';
      problem.value = cancelled ? 'Stopped. Nothing of it was kept.' : sentence(error);
      voice.say(`${label}: ${problem.value}`, cancelled ? 'told' : 'fault');
      if (intake) await call(routes.discardIntake, { params: { intakeId: intake.id } }).catch(() => undefined);
      return null;
    } finally {
      removeEventListener('beforeunload', guard);
      now.value = null;
      abort = null;
    }
  }
  const stop = (): void => abort?.abort();
  return { now, problem, send, stop };
});
