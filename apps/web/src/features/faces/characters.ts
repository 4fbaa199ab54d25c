import type { Characters } from '@orderly-glyph/schema';
import { watchDebounced } from '@vueuse/core';
import { computed, ref, watch, type Ref } from 'vue';
import { useAddress } from '../../platform/address';
import { call, routes, sentence } from '../../platform/api';
import { GROUPINGS, rowsOf, type Grouping, type Test } from './cells';
import { useLibrary } from '../library/library';
import { wholeFamily } from './live-type';

/** What the table of characters shows: the face, what is searched for and how it is grouped stand in the address. */
export function useCharacters(perRow: Ref<number>) {
  const library = useLibrary();
  const { param, put } = useAddress();
  const faceId = computed(() => param('face'));
  const entry = computed(() => library.faces.get(faceId.value) ?? null);
  const found = ref<Characters | null>(null);
  const problem = ref('');
  /** The CSS family under which the whole face is loaded. */
  const family = ref('');
  const search = ref(param('find'));
  const grouping = computed<Grouping>({
    get: () => (param('by') in GROUPINGS ? (param('by') as Grouping) : 'block'),
    set: (by) => put({ by: by === 'block' ? '' : by }),
  });
  const scriptTests = computed(() =>
    [...library.scriptNames].flatMap(([code, name]): Test[] => {
      try {
        return [[name, new RegExp(`^\\p{Script=${code}}$`, 'u')]];
      } catch {
        // Ways of writing such as Hans are scripts of ISO 15924 and not of Unicode.
        return [];
      }
    }),
  );

  async function load(): Promise<void> {
    if (!faceId.value) return;
    problem.value = '';
    try {
      const [characters, face] = await Promise.all([
        call(routes.listCharacters, { params: { faceId: faceId.value }, query: param('find') ? { q: param('find') } : {} }),
        call(routes.getFace, { params: { faceId: faceId.value } }),
      ]);
      found.value = characters;
      if (entry.value) family.value = await wholeFamily(entry.value.face, face.outlines);
    } catch (error) {
      problem.value = error instanceof DOMException ? 'This browser refuses the face, so its characters cannot be shown.' : sentence(error);
    }
  }
  watch([faceId, () => param('find'), () => entry.value?.face.id], () => void load(), { immediate: true });

  watchDebounced(search, (q) => put({ find: q }), { debounce: 200 });
  const rows = computed(() => (found.value ? rowsOf(found.value, grouping.value, scriptTests.value, perRow.value) : []));
  return { faceId, entry, found, problem, family, search, grouping, rows };
}
