import type { Answer, BundleSuggestion, Companion, Face, KnownText, License, LicenseFields, Suggestion } from '@orderly-glyph/schema';
import { blankLicense, openLicense } from '@orderly-glyph/schema';
import { computed, onMounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { useAddress } from '../../platform/address';
import { ApiProblem, call, routes, sendEvidence, sentence } from '../../platform/api';
import { useDraft } from './draft';
import { merge, put, type Clash } from './merge';
import type { ShownText } from './shown';
import { useLibrary } from '../library/library';
import { useVoice } from '../../platform/voice';
import { list } from '../../platform/words';

/**
 * One license as its page loads, fills in, joins and keeps it.
 * @param licenseId its id, or "new"
 */
export function useLicenseRecord(licenseId: () => string) {
  const router = useRouter();
  const library = useLibrary();
  const voice = useVoice();
  const { param, several } = useAddress();
  const isNew = computed(() => licenseId() === 'new');
  const form = ref<LicenseFields | null>(null);
  const existing = ref<License | null>(null);
  const companions = ref<Companion[]>([]);
  const suggestion = ref<Suggestion | null>(null);
  /** Families that the text does not count for, with the reason. */
  const left = ref<BundleSuggestion['left']>([]);
  /** The text on the right, and one that was pasted there and is kept with the license. */
  const shown = ref<ShownText | null>(null);
  const pasted = ref('');
  /** The license field of the file, read where no text came along. */
  let inFile = '';
  const draft = useDraft(form);
  const problem = ref('');
  const field = ref('');
  const busy = ref(false);
  const families = computed(() =>
    list([...new Set((form.value?.faceIds ?? []).map((id) => library.faces.get(id)?.family.name ?? ''))].filter(Boolean), 6),
  );

  const history = ref<Answer<(typeof routes)['getLicenseHistory']>>([]);
  watch(existing, async (found) => {
    history.value = found ? await call(routes.getLicenseHistory, { params: { licenseId: found.id } }).catch(() => []) : [];
  });
  /** Licenses these faces could join instead of getting a record of their own. */
  const others = ref<License[]>([]);
  onMounted(async () => {
    if (isNew.value) others.value = await call(routes.listLicenses).catch(() => []);
  });

  const sending = ref(false);
  async function addEvidence(files: readonly File[]): Promise<void> {
    const licenseId = existing.value?.id;
    if (!licenseId || !form.value) return;
    sending.value = true;
    for (const file of files)
      try {
        const kept = await sendEvidence(licenseId, file);
        companions.value = [...companions.value, kept];
        form.value.companionIds = [...form.value.companionIds, kept.id];
        voice.say(kept.unread ? `${kept.name}: ${kept.unread}` : `Kept as evidence: ${kept.name}.`);
        if (kept.readable && !shown.value) await read(kept);
        // That made a version of its own; one that somebody else made meanwhile is met when keeping.
        const now = (await call(routes.listLicenses).catch((): License[] => [])).find((l) => l.id === licenseId);
        if (now && now.version === (existing.value?.version ?? 0) + 1) existing.value = now;
      } catch (error) {
        voice.say(`${file.name}: ${sentence(error)}`, 'fault');
      }
    sending.value = false;
  }
  /** What a text offers to answer goes into the form, with its sentences; only the person confirms. */
  function take(s: Suggestion): void {
    if (!form.value) return;
    const offered = Object.entries(s.answers);
    const known = s.spdxId !== null && offered.length > 0 ? openLicense(s.spdxId) : null;
    form.value = {
      ...form.value,
      name: `${s.name}, ${families.value}`.slice(0, 160),
      kind: known?.kind ?? form.value.kind,
      spdxId: known?.spdxId ?? null,
      uses: Object.fromEntries(offered.map(([use, a]) => [use, a.answer])),
      quotes: {},
      companionIds: s.companionId ? [s.companionId] : form.value.companionIds,
      confirmed: false,
    };
  }
  /** The same for a license recognized in a text that was opened or pasted here. */
  function takeKnown(r: KnownText): void {
    const before = form.value;
    take({ ...r, basis: 'text', reservedNames: [], companionId: null, companionName: null, sentence: null, doubt: null });
    voice.say(`Filled in from the ${r.name}. Look it over.`, 'told', { label: 'Undo', run: () => void (form.value = before) });
  }

  async function startNew(): Promise<void> {
    let faceIds: string[] = [];
    let text: BundleSuggestion | null = null;
    if (param('text')) {
      const { suggestions } = await call(routes.getIntake, { params: { intakeId: param('intake') } });
      text = suggestions.find((s) => s.companionId === param('text')) ?? null;
      faceIds = text?.faceIds ?? [];
      left.value = text?.left ?? [];
    } else if (param('bare')) faceIds = library.families.filter((f) => f.licenseName === null).flatMap((f) => f.faces.map((x) => x.id));
    else if (param('family')) faceIds = library.families.find((f) => f.id === param('family'))?.faces.map((f) => f.id) ?? [];
    else faceIds = several('faces').filter((id) => library.faces.has(id));
    form.value = blankLicense(faceIds);
    const first = faceIds[0];
    if (!first) return;
    // Companions of every family covered; one face of each is enough, since they came together.
    const leads = [...new Map(faceIds.map((id) => [library.faces.get(id)?.family.id, id])).values()].slice(0, 20);
    const faces: Face[] = await Promise.all(leads.map((id) => call(routes.getFace, { params: { faceId: id } })));
    companions.value = [...new Map(faces.flatMap((f) => f.companions).map((c) => [c.id, c])).values()];
    inFile = faces[0]!.names.License ?? '';
    form.value.name = `Terms of ${families.value}`.slice(0, 160);
    // What counts for these faces, and what shows that they were bought, is what the record will rest on.
    form.value.companionIds = text
      ? [text.companionId]
      : companions.value.filter((c) => c.belongs === true || c.kind === 'receipt').map((c) => c.id);
    suggestion.value = text ? text.suggestion : (faces[0]!.suggestions[0] ?? null);
    if (suggestion.value) take(suggestion.value);
    form.value.grantor = faces[0]!.names.Manufacturer?.slice(0, 200) ?? '';
  }

  async function load(): Promise<void> {
    problem.value = '';
    draft.end();
    form.value = null;
    existing.value = null;
    companions.value = [];
    suggestion.value = null;
    shown.value = null;
    pasted.value = '';
    inFile = '';
    left.value = [];
    clashes.value = [];
    theirs.value = null;
    try {
      if (isNew.value) await startNew();
      else {
        const found = (await call(routes.listLicenses)).find((l) => l.id === licenseId());
        if (!found) {
          problem.value = 'This license is not on record any more.';
          return;
        }
        existing.value = found;
        const joining = several('add').filter((id) => library.faces.has(id));
        form.value = fieldsOf(found);
        form.value.faceIds = [...new Set([...form.value.faceIds, ...joining])];
        const first = found.faceIds[0];
        const face = first ? await call(routes.getFace, { params: { faceId: first } }) : null;
        inFile = face?.names.License ?? '';
        companions.value = [...new Map([...found.companions, ...(face?.companions ?? [])].map((c) => [c.id, c])).values()];
      }
      // The terms say most; then what this license rests on.
      const rank = (c: Companion): number => (form.value?.companionIds.includes(c.id) ? 2 : 0) + (c.kind === 'terms' ? 1 : 0);
      const evidence = companions.value.filter((c) => c.readable && rank(c) > 0).sort((a, b) => rank(b) - rank(a))[0];
      if (evidence) await read(evidence);
      else if (inFile.trim() !== '') await readInFile();
      draft.takeUp();
    } catch (error) {
      problem.value = sentence(error);
    }
  }
  onMounted(() => {
    if (library.state === 'ready') void load();
  });
  watch(
    () => library.state,
    (state, before) => {
      if (state === 'ready' && before !== 'ready') void load();
    },
  );
  watch(licenseId, load);

  async function readInFile(): Promise<void> {
    const text = inFile;
    const answer = await call(routes.readTermsText, { body: { text } });
    shown.value = { name: 'License field of the file', text, unread: null, ...answer };
  }

  const opening = ref('');
  async function read(c: Companion): Promise<void> {
    opening.value = c.name;
    try {
      const answer = await call(routes.readCompanion, { params: { companionId: c.id } });
      shown.value = { name: c.name, unread: c.unread, ...answer };
    } catch (error) {
      voice.say(sentence(error), 'fault');
    } finally {
      opening.value = '';
    }
  }

  async function save(): Promise<void> {
    if (!form.value) return;
    busy.value = true;
    problem.value = '';
    field.value = '';
    try {
      const f = form.value;
      const body = {
        ...f,
        startsOn: f.startsOn || null,
        endsOn: f.endsOn || null,
        noticeOn: f.noticeOn || null,
        boughtOn: f.boughtOn || null,
        // An emptied number field holds an empty text.
        price: typeof f.price === 'number' ? f.price : null,
        currency: f.currency || null,
        duties: f.duties.map((d) => d.trim()).filter(Boolean),
      };
      const saved = isNew.value
        ? await call(routes.createLicense, { body })
        : await call(routes.changeLicense, { params: { licenseId: licenseId() }, body: { ...body, version: existing.value!.version } });
      draft.forget();
      voice.say(`Kept: ${saved.name}.`);
      if (pasted.value)
        await sendEvidence(saved.id, new File([pasted.value], 'Pasted terms.txt', { type: 'text/plain' })).catch((error: unknown) =>
          voice.say(`The license is kept, the pasted text is not: ${sentence(error)}`, 'fault'),
        );
      library.takeOver(saved.changed);
      const face = library.families.find((f) => f.faces.some((x) => saved.faceIds.includes(x.id)))?.leadFaceId;
      await router.push(face ? { path: '/library', query: { face } } : '/licenses');
    } catch (error) {
      problem.value = sentence(error);
      field.value = error instanceof ApiProblem ? (error.field ?? '') : '';
      if (error instanceof ApiProblem && error.code === 'stale') await meet();
    } finally {
      busy.value = false;
    }
  }

  /** What somebody else made of the record meanwhile, and where we both changed the same. */
  const theirs = ref<LicenseFields | null>(null);
  const clashes = ref<Clash[]>([]);
  const fieldsOf = (l: License): LicenseFields =>
    Object.fromEntries(Object.keys(blankLicense([])).map((key) => [key, l[key as keyof LicenseFields]])) as LicenseFields;
  async function meet(): Promise<void> {
    const now = (await call(routes.listLicenses).catch(() => [])).find((l) => l.id === licenseId());
    if (!now || !existing.value || !form.value) return;
    theirs.value = fieldsOf(now);
    const met = merge(fieldsOf(existing.value), form.value, theirs.value);
    form.value = met.merged;
    clashes.value = met.clashes;
    existing.value = now;
    problem.value =
      met.clashes.length > 0
        ? 'Somebody changed this license while you worked on it. What only one of you changed is joined below; of what both changed yours stands until you choose. Nothing is kept yet.'
        : 'Somebody changed this license while you worked on it. Both changes are joined below; look it over and keep it again.';
  }
  function takeTheirs(c: Clash): void {
    if (form.value && theirs.value) form.value = put(form.value, c.path, theirs.value);
    clashes.value = clashes.value.filter((x) => x !== c);
  }

  async function remove(): Promise<void> {
    const before = existing.value;
    if (!before) return;
    try {
      const { changed } = await call(routes.removeLicense, { params: { licenseId: before.id } });
      library.takeOver(changed);
      voice.say(`“${before.name}” is off record. Its faces no longer rest on it.`, 'told', {
        label: 'Undo',
        run: () =>
          void call(routes.restoreLicense, { params: { licenseId: before.id } }).then(
            (back) => library.takeOver(back.changed),
            (error: unknown) => voice.say(sentence(error), 'fault'),
          ),
      });
      await router.push('/licenses');
    } catch (error) {
      problem.value = sentence(error);
    }
  }

  return {
    isNew,
    form,
    existing,
    companions,
    suggestion,
    left,
    shown,
    pasted,
    problem,
    field,
    busy,
    families,
    history,
    others,
    sending,
    addEvidence,
    takeKnown,
    opening,
    read,
    save,
    clashes,
    takeTheirs,
    remove,
  };
}
