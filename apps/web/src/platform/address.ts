import type { Face } from '@orderly-glyph/schema';
import { ref, watch, type Ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call, routes, sentence } from './api';

/** The state of a view as its address holds it, so that back and reload find it again. */
export function useAddress(): { param: (name: string) => string; put: (values: Record<string, string | undefined>) => void } {
  const route = useRoute();
  const router = useRouter();
  return {
    param: (name) => {
      const value = route.query[name];
      return typeof value === 'string' ? value : '';
    },
    put: (values) =>
      void router.replace({
        query: { ...route.query, ...Object.fromEntries(Object.entries(values).map(([k, v]) => [k, v || undefined])) },
      }),
  };
}

/** Follows the id of a face and holds what is known of it, or the sentence that says why nothing is. */
export function useFace(id: () => string): { face: Ref<Face | null>; problem: Ref<string> } {
  const face = ref<Face | null>(null);
  const problem = ref('');
  watch(
    id,
    async (wanted) => {
      face.value = null;
      problem.value = '';
      if (!wanted) return;
      try {
        const found = await call(routes.getFace, { params: { faceId: wanted } });
        if (id() === wanted) face.value = found;
      } catch (error) {
        if (id() === wanted) problem.value = sentence(error);
      }
    },
    { immediate: true },
  );
  return { face, problem };
}
