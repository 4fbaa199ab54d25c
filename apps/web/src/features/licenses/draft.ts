import type { LicenseFields } from '@orderly-glyph/schema';
import { computed, watch, type Ref } from 'vue';
import { useRoute } from 'vue-router';
import { useSession } from '../accounts/session';
import { useVoice } from '../../platform/voice';

/** What was entered in a form and not kept yet survives a reload and a step back, in this tab. */
export function useDraft(form: Ref<LicenseFields | null>) {
  const route = useRoute();
  const session = useSession();
  const voice = useVoice();
  const key = computed(() => `license ${session.session?.workspace?.id ?? ''} ${route.fullPath}`);
  /** The form as it was read; empty while nothing is to be remembered. */
  let fresh = '';
  watch(
    form,
    (now) => {
      if (!now || fresh === '') return;
      const text = JSON.stringify(now);
      if (text === fresh) sessionStorage.removeItem(key.value);
      else sessionStorage.setItem(key.value, text);
    },
    { deep: true },
  );
  /** Offers what was entered earlier over the form as it was just read, and remembers from now on. */
  function takeUp(): void {
    if (!form.value) return;
    fresh = JSON.stringify(form.value);
    const kept = sessionStorage.getItem(key.value);
    if (!kept || kept === fresh) return;
    const asRead = form.value;
    form.value = { ...asRead, ...(JSON.parse(kept) as LicenseFields) };
    voice.say('What you had entered and not kept is here again.', 'told', {
      label: 'Throw it away',
      run: () => void (form.value = asRead),
    });
  }
  /** Nothing is remembered until the form is read again. */
  function end(): void {
    fresh = '';
  }
  function forget(): void {
    sessionStorage.removeItem(key.value);
    end();
  }
  return { takeUp, end, forget };
}
