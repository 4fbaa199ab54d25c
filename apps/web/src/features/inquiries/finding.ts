import { routes, type Inquiry, type PictureEdit, type PictureReading } from '@orderly-glyph/schema';
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { addressOf, call, callUpload, sentence } from '../../platform/api';
import type { Color, FinderAnswer, PreparedPicture, ReadLetters } from './finder-tasks';
import { Finder } from './finder';

/** The surest first. */
const SURENESS: readonly FinderAnswer['sureness'][] = ['surely', 'probably', 'nearest', 'none'];
const BLANK: PictureReading = {
  edits: [],
  ground: null,
  ink: null,
  level: null,
  specks: 0,
  pinholes: 0,
  word: '',
  without: [],
  asWord: null,
  stretched: false,
  slanted: false,
};
export type Use = Inquiry['use'];

/** Bytes as Base64, in parts that fit a call. */
export function base64(bytes: Uint8Array): string {
  let binary = '';
  for (let i = 0; i < bytes.length; i += 8192) binary += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return btoa(binary);
}
const bytesOf = (text: string): Uint8Array<ArrayBuffer> => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

/** One picture that is worked on, from its edits to the faces that were found. */
export function useFinding() {
  const finder = new Finder();
  onBeforeUnmount(() => finder.close());
  const loaded = ref(0);
  /** What is going on, in words; empty when nothing is. */
  const busy = ref('');
  const problem = ref('');
  /** The picture as it came, as PNG. */
  const png = shallowRef<Uint8Array<ArrayBuffer> | null>(null);
  const pages = ref(1);
  const page = ref(1);
  const fileName = ref('');
  const reading = ref<PictureReading>({ ...BLANK });
  const prepared = shallowRef<PreparedPicture | null>(null);
  const letters = shallowRef<ReadLetters | null>(null);
  const answer = shallowRef<FinderAnswer | null>(null);
  /** Whether the word stands in each face as that face shapes it. */
  const shaped = ref(false);
  let file: Blob | null = null;

  async function work<T>(words: string, run: () => Promise<T>): Promise<T | null> {
    busy.value = words;
    problem.value = '';
    try {
      return await run();
    } catch (error) {
      problem.value = error instanceof Error && error.constructor === Error ? error.message : sentence(error);
      return null;
    } finally {
      busy.value = '';
    }
  }

  async function setPng(bytes: Uint8Array<ArrayBuffer>): Promise<void> {
    const image = await createImageBitmap(new Blob([bytes], { type: 'image/png' }));
    const canvas = new OffscreenCanvas(image.width, image.height);
    const context = canvas.getContext('2d')!;
    context.drawImage(image, 0, 0);
    const { data } = context.getImageData(0, 0, image.width, image.height);
    png.value = bytes;
    await finder.run('setPicture', { width: image.width, height: image.height, data });
  }

  /** Takes a picture or a page of a document. */
  async function open(given: Blob, name: string, wanted = 1): Promise<void> {
    await work('Reading the picture …', async () => {
      const read = await callUpload(routes.decodePicture, { query: { page: wanted } }, given);
      file = given;
      fileName.value = name;
      pages.value = read.pages;
      page.value = wanted;
      reading.value = { ...BLANK };
      answer.value = null;
      letters.value = null;
      await setPng(bytesOf(read.png));
      await prepare();
    });
  }
  const turnTo = (n: number): Promise<void> => (file ? open(file, fileName.value, n) : Promise.resolve());

  /** Opens what was kept. */
  async function reopen(inquiry: Inquiry): Promise<void> {
    await work('Opening the picture …', async () => {
      const response = await fetch(addressOf(routes.inquiryPicture, { params: { inquiryId: inquiry.id } }), { credentials: 'same-origin' });
      if (!response.ok) throw new Error('The picture of this inquiry could not be fetched. Reload the page and try again.');
      file = null;
      pages.value = 1;
      reading.value = structuredClone(inquiry.reading);
      await setPng(new Uint8Array(await response.arrayBuffer()));
      await prepare();
      if (reading.value.word !== '') {
        await loadFaces();
        await readWord();
        await find();
      }
    });
  }

  const wish = () => ({
    ground: reading.value.ground as Color | null,
    ink: reading.value.ink as Color | null,
    ...(reading.value.level === null ? {} : { level: reading.value.level }),
    specks: reading.value.specks,
    pinholes: reading.value.pinholes,
  });
  let turn = 0;
  async function prepare(): Promise<void> {
    const own = ++turn;
    const made = await finder.run('prepare', JSON.parse(JSON.stringify(reading.value.edits)) as PictureEdit[], wish(), true);
    if (own !== turn) return;
    prepared.value = made;
    await readWord();
  }
  const again = (): Promise<unknown> => work('Working on the picture …', prepare);

  /** Edits can be taken back one by one; the picture itself is never changed. */
  function edit(next: PictureEdit): void {
    reading.value = { ...reading.value, edits: [...reading.value.edits, next], without: [] };
    answer.value = null;
    void again();
  }
  function undo(): void {
    reading.value = { ...reading.value, edits: reading.value.edits.slice(0, -1) };
    answer.value = null;
    void again();
  }
  function set(some: Partial<PictureReading>): void {
    reading.value = { ...reading.value, ...some };
    answer.value = null;
    void again();
  }

  async function loadFaces(): Promise<void> {
    await finder.load((n) => (loaded.value = n));
    loaded.value = finder.faces;
  }
  async function readWord(): Promise<void> {
    letters.value = await finder.run('readLetters', reading.value.word.normalize('NFC'));
  }
  watch(
    () => reading.value.word,
    () => {
      answer.value = null;
      reading.value.without = [];
      void finder
        .run('readLetters', reading.value.word.normalize('NFC'))
        .then((r) => (letters.value = r))
        .catch(() => (letters.value = null));
    },
  );
  const asked = () => ({
    without: [...reading.value.without],
    asWord: reading.value.asWord,
    stretched: reading.value.stretched,
    slanted: reading.value.slanted,
  });
  async function find(): Promise<void> {
    if (reading.value.word.trim() === '') return;
    await loadFaces();
    await finder.run('readLetters', reading.value.word.normalize('NFC'));
    const first = await finder.run('search', asked());
    answer.value = first;
    shaped.value = false;
    // Where letters alone say little, or join: the nearest again, with the word as each face shapes it, with its joins, its kerning and
    // the forms that its letters take beside one another.
    if (!first.asWord && (SURENESS.indexOf(first.sureness) < 2 || reading.value.asWord === false)) return;
    const ids = [...new Set(first.families.flatMap((f) => [f.faceId, ...f.siblings.slice(0, 4), ...f.twins.slice(0, 3)]))].slice(0, 40);
    if (ids.length === 0) return;
    const words = await call(routes.shapeWords, { body: { text: reading.value.word, faceIds: ids } });
    const better = await finder.run(
      'searchShaped',
      words.filter((w) => w.missing.length === 0).map(({ faceId, polygons }) => ({ faceId, polygons })),
      asked(),
    );
    if (!better || better.families.length === 0) return;
    // Of words that are compared as one shape one in five is called probable where its face is not here: only what is sure counts then.
    if (first.asWord || better.sureness === 'surely' || (first.sureness === 'nearest' && better.sureness === 'probably')) {
      answer.value = { ...better, faces: first.faces };
      shaped.value = true;
    }
  }
  const search = (): Promise<unknown> => work('Looking through the library …', find);

  return {
    finder,
    loaded,
    busy,
    problem,
    png,
    pages,
    page,
    fileName,
    reading,
    prepared,
    letters,
    answer,
    shaped,
    canUndo: computed(() => reading.value.edits.length > 0),
    open,
    turnTo,
    reopen,
    edit,
    undo,
    set,
    search,
    loadFaces,
    readWord,
    work,
    trace: (color: string) => finder.run('trace', color),
    keptInk: async () => {
      const kept = await finder.run('keptInk');
      // What is larger than can be kept is not looked for again.
      return kept && kept.width <= 3000 && kept.height <= 1000 ? { ...kept, values: base64(kept.values) } : null;
    },
  };
}
export type Finding = ReturnType<typeof useFinding>;
