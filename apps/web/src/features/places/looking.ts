import { onBeforeUnmount, ref, type Ref } from 'vue';
import { call, routes, sentence, watchJob } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import { useLibrary } from '../library/library';

/** Looking whether all is where we put it, at one place or at all of them (null); the looking itself goes on when the page is left. */
export function useLooking(placeId: () => string | null): { looking: Ref<string>; look: () => Promise<void> } {
  const library = useLibrary();
  const voice = useVoice();
  const looking = ref('');
  let stop: (() => void) | null = null;
  onBeforeUnmount(() => stop?.());
  async function look(): Promise<void> {
    looking.value = 'Looking …';
    try {
      const { jobId } = await call(routes.checkInstalls, { body: { placeId: placeId() } });
      stop = watchJob(jobId, (job) => {
        looking.value = job.state === 'queued' || job.state === 'running' ? `Looked at ${job.done} of ${job.total}` : '';
        if (looking.value) return;
        voice.say(job.message);
        void library.loadPlaces();
      });
    } catch (error) {
      looking.value = '';
      voice.say(sentence(error), 'fault');
    }
  }
  return { looking, look };
}
