import type { Face } from '@orderly-glyph/schema';
import { onScopeDispose, ref, watch, type Ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call, routes, sentence } from './api';

/** The state of a view as its address holds it, so that back and reload find it again. */
export function useAddress(): {
  /** A value, empty when it is not there. */
  param: (name: string) => string;
  /** The ids or words of a value that holds several. */
  several: (name: string) => string[];
  /** Replaces values, so that the back button leaves the view. */
  put: (values: Record<string, string | undefined>) => void;
  /** The same as a step that the back button takes back. */
  step: (values: Record<string, string | undefined>) => void;
} {
  const route = useRoute();
  const router = useRouter();
  let here = true;
  onScopeDispose(() => (here = false), true);
  const param = (name: string): string => {
    const value = route.query[name];
    return typeof value === 'string' ? value : '';
  };
  const withValues = (values: Record<string, string | undefined>) => ({
    query: { ...route.query, ...Object.fromEntries(Object.entries(values).map(([k, v]) => [k, v || undefined])) },
  });
  return {
    param,
    several: (name) => param(name).split(',').filter(Boolean),
    // What was typed a moment before leaving must not end up in the address of the next view.
    put: (values) => void (here && router.replace(withValues(values))),
    step: (values) => void router.push(withValues(values)),
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
