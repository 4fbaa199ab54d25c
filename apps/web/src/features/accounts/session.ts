import { defineStore } from 'pinia';
import type { Session } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { call, routes } from '../../platform/api';

export const useSession = defineStore('session', () => {
  const session = ref<Session | null>(null);
  const canEdit = computed(() => session.value?.role === 'owner' || session.value?.role === 'editor');
  const isOwner = computed(() => session.value?.role === 'owner');

  async function load(): Promise<Session> {
    session.value = await call(routes.getSession);
    return session.value;
  }
  function set(next: Session): void {
    session.value = next;
  }
  return { session, canEdit, isOwner, load, set };
});
