import { routes, type ReadPageAnswer, type Typeface, type TypefaceAct, type TypefaceGlyph } from '@orderly-glyph/schema';
import { computed, ref, watch } from 'vue';
import { addressOf, ApiProblem, call, callUpload, sentence } from '../../platform/api';
import { useVoice } from '../../platform/voice';
import { count } from '../../platform/words';

/** A picture that was read, under the name of its file. */
export interface ReadPicture {
  name: string;
  refused: string | null;
  pages: ReadPageAnswer[];
}

/** A typeface that is being worked on. */
export function useTypeface(typefaceId: () => string) {
  const voice = useVoice();
  const face = ref<Typeface | null>(null);
  const state = ref<'loading' | 'ready' | 'failed'>('loading');
  const problem = ref('');
  const busy = ref('');
  const pictures = ref<ReadPicture[]>([]);
  /** Names of glyphs that are chosen. */
  const chosen = ref<string[]>([]);
  const glyphs = computed(() => face.value?.glyphs ?? []);
  const selection = computed(() => glyphs.value.filter((g) => chosen.value.includes(g.name)));

  async function load(): Promise<void> {
    try {
      face.value = await call(routes.getTypeface, { params: { typefaceId: typefaceId() } });
      state.value = 'ready';
    } catch (error) {
      problem.value = sentence(error);
      state.value = 'failed';
    }
  }
  watch(typefaceId, () => void load(), { immediate: true });

  async function carryOut<T>(work: () => Promise<T>, waits = ''): Promise<T | null> {
    problem.value = '';
    busy.value = waits;
    try {
      return await work();
    } catch (error) {
      problem.value = sentence(error);
      voice.say(problem.value, 'fault');
      if (error instanceof ApiProblem && (error.code === 'stale' || error.status === 404)) await load();
      return null;
    } finally {
      busy.value = '';
    }
  }
  function takeOver(next: Typeface): void {
    face.value = next;
    chosen.value = chosen.value.filter((name) => next.glyphs.some((g) => g.name === name));
  }
  /** Does something to letters, and says so with a way back where there is one. */
  async function act(what: TypefaceAct, told = '', back: TypefaceAct | null = null): Promise<boolean> {
    const next = await carryOut(() => call(routes.changeLetters, { params: { typefaceId: typefaceId() }, body: what }));
    if (!next) return false;
    takeOver(next);
    if (told) voice.say(told, 'told', back ? { label: 'Undo', run: () => void act(back) } : null);
    return true;
  }
  /** Says how letters came in, and how to have the old ones back. */
  function tell(added: readonly string[], replaced: readonly string[]): void {
    voice.say(
      `${count(added.length, 'letter')} came in${replaced.length > 0 ? `; ${count(replaced.length, 'older drawing')} stepped aside` : ''}.`,
      added.length === 0 ? 'fault' : 'told',
      replaced.length > 0
        ? { label: 'Bring the old ones back', run: () => void act({ act: 'restore', ids: [...replaced] }) }
        : added.length > 0
          ? { label: 'Undo', run: () => void act({ act: 'remove', ids: [...added] }) }
          : null,
    );
  }
  async function readPictures(files: readonly File[]): Promise<void> {
    pictures.value = [];
    const added: string[] = [];
    const replaced: string[] = [];
    for (const [i, file] of files.entries()) {
      busy.value = `Reading ${i + 1} of ${files.length} …`;
      try {
        const answer = await callUpload(routes.readSheet, { params: { typefaceId: typefaceId() } }, file);
        takeOver(answer.typeface);
        added.push(...answer.added);
        replaced.push(...answer.replaced);
        pictures.value.push({ name: file.name, refused: null, pages: answer.pages });
      } catch (error) {
        pictures.value.push({ name: file.name, refused: sentence(error), pages: [] });
      }
    }
    busy.value = '';
    // What came and stepped aside within this very batch is not brought back.
    tell(
      added,
      replaced.filter((id) => !added.includes(id)),
    );
  }
  async function addVectors(files: readonly File[]): Promise<string[]> {
    const texts = await Promise.all(files.map(async (file) => ({ path: file.name, text: await file.text() })));
    const answer = await carryOut(
      () => call(routes.addLetters, { params: { typefaceId: typefaceId() }, body: { files: texts.slice(0, 300), boxes: [] } }),
      'Reading the drawings …',
    );
    if (!answer) return [];
    takeOver(answer.typeface);
    tell(answer.added, answer.replaced);
    return answer.told;
  }
  async function addBox(character: string, variant: number, width: number, height: number, gray: string): Promise<boolean> {
    const answer = await carryOut(
      () =>
        call(routes.addLetters, {
          params: { typefaceId: typefaceId() },
          body: { files: [], boxes: [{ character, variant, width, height, gray }] },
        }),
      'Tracing …',
    );
    if (!answer) return false;
    takeOver(answer.typeface);
    if (answer.told.length > 0) voice.say(answer.told[0]!, 'fault');
    else tell(answer.added, answer.replaced);
    return answer.added.length > 0;
  }
  const sheetAddress = (sheetId: string, as: 'pdf' | 'png' | 'svg', page = 1): string =>
    addressOf(routes.getSheet, { params: { typefaceId: typefaceId(), paperId: sheetId }, query: { as, page } });
  const previewAddress = (): string =>
    addressOf(routes.tryTypeface, { params: { typefaceId: typefaceId() }, query: { version: face.value?.version ?? 0 } });
  const kitAddress = (number: number): string => addressOf(routes.typefaceKit, { params: { typefaceId: typefaceId(), number } });
  return {
    face,
    state,
    problem,
    busy,
    pictures,
    chosen,
    glyphs,
    selection,
    load,
    act,
    carryOut,
    takeOver,
    readPictures,
    addVectors,
    addBox,
    sheetAddress,
    previewAddress,
    kitAddress,
  };
}
export type FaceAtHand = ReturnType<typeof useTypeface>;

/** How a glyph is called to a person: its character, a mark on a ring, the number of a further drawing. */
export const sayGlyph = (g: Pick<TypefaceGlyph, 'character' | 'variant'>): string =>
  `${/^\p{M}/u.test(g.character) ? `◌${g.character}` : g.character}${g.variant > 0 ? ` ${g.variant + 1}` : ''}`;

/** Heights at which guides are drawn, thousandths of the em; the same as on the sheet. */
export const GUIDES = [740, 700, 480, 0, -240] as const;
/** The box of a letter in thousandths of the em. */
export const BOX = { left: -120, right: 1120, bottom: -360, top: 980 } as const;
