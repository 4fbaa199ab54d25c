import { randomBytes, randomUUID } from 'node:crypto';
import { cellsFor, layOut, openCells, wordsFor, type Cell, type Contour, type SheetPlan } from '@orderly-glyph/core';
import type { ReadPageAnswer, TypefaceAct, TypefaceLetter } from '@orderly-glyph/schema';
import type { Request } from 'express';
import { In, type EntityManager } from 'typeorm';
import { ComputeError } from '../../platform/compute/pool.js';
import { unreadPage, type ShownPage } from '../../platform/compute/work/typefaces.js';
import { current } from '../../platform/context/current.js';
import { conflict, notFound } from '../../platform/http/problem.js';
import { withBody } from '../../platform/http/upload.js';
import { LetterEntity, SheetEntity, TypefaceEntity, type LetterRow, type SheetRow } from './rows.js';
import {
  coreTypeface,
  findTypeface,
  freshTypeface,
  ensureFreeName,
  ensureDrawable,
  lettersOfFace,
  touch,
  type Deps,
  type Who,
} from './typefaces.js';

/** Letters and figures that are told apart when somebody reads them aloud. Source: RFC 4648, section 6, base 32. */
const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';
const MOST_LETTERS = 4000;

/** Lays out a sheet and keeps its plan: a page that comes back in years is still read by it. */
export async function makeSheet(
  { db }: Deps,
  who: Who,
  typefaceId: string,
  { paper, em, boxes, words }: { paper: SheetPlan['paper']; em: number; boxes: 'all' | 'open' | Cell[]; words: boolean },
): Promise<void> {
  const row = await findTypeface(db, who.workspaceId, typefaceId);
  const letters = await lettersOfFace(db, typefaceId);
  const all = cellsFor(row.wish);
  const cells = boxes === 'all' ? all : boxes === 'open' ? openCells(coreTypeface(row, letters)) : boxes;
  if (cells.length === 0) throw conflict('Every box has its letter. Choose the ones that you want to draw again; nothing was made.');
  const id = Array.from(randomBytes(16), (b) => ALPHABET[b % 32]).join('');
  // Words are written with letters of the whole face, whichever boxes this sheet has.
  const plan: SheetPlan = { id, layout: 1, paper, em, cells, words: words ? wordsFor(all) : [] };
  const pages = layOut(plan).length;
  await db.getRepository(SheetEntity).insert({ id, workspaceId: who.workspaceId, typefaceId, plan, pages, madeAt: new Date() } as never);
}

/** @throws HttpProblem when there is none */
export async function findSheet({ db }: Deps, workspaceId: string, typefaceId: string, id: string): Promise<SheetRow> {
  await findTypeface(db, workspaceId, typefaceId);
  const row = await db.getRepository(SheetEntity).findOneBy({ id, typefaceId, workspaceId });
  if (!row) throw notFound('This sheet');
  return row;
}

/** Ink that came in. */
interface Incoming {
  character: string;
  variant: number;
  ink: Contour[];
  from: string;
}

/** Keeps ink as letters; one that was drawn before steps aside and can be brought back. */
async function keep(
  manager: EntityManager,
  workspaceId: string,
  typefaceId: string,
  incoming: readonly Incoming[],
): Promise<{ added: string[]; replaced: string[] }> {
  await manager.query('SELECT id FROM typeface WHERE id = ? FOR UPDATE', [typefaceId]);
  const now = await lettersOfFace(manager, typefaceId);
  const here = new Map(now.map((l) => [`${l.character}/${l.variant}`, l.id]));
  const added: string[] = [];
  const replaced: string[] = [];
  // Of two for one box in one go the later one holds.
  const last = new Map(incoming.map((i) => [`${i.character}/${i.variant}`, i]));
  if (now.length + last.size > MOST_LETTERS)
    throw conflict(`A typeface holds ${MOST_LETTERS.toLocaleString('en-US')} drawings at most. Nothing was kept.`);
  const fresh = [...last].map(([key, i]): LetterRow => {
    const old = here.get(key);
    if (old) replaced.push(old);
    const id = randomUUID();
    added.push(id);
    return {
      id,
      workspaceId,
      typefaceId,
      character: i.character,
      variant: i.variant,
      ink: i.ink,
      steps: [],
      fromName: i.from.slice(0, 1000),
      createdAt: new Date(),
      removedAt: null,
    };
  });
  if (replaced.length > 0) await manager.getRepository(LetterEntity).update({ id: In(replaced) }, { removedAt: new Date() });
  for (let i = 0; i < fresh.length; i += 50) await manager.getRepository(LetterEntity).insert(fresh.slice(i, i + 50) as never);
  if (fresh.length > 0) await touch(manager, typefaceId);
  return { added, replaced };
}

/** Reads filled pages out of a picture or a document. */
export async function readSheet(
  deps: Deps,
  who: Who,
  typefaceId: string,
  request: Request,
): Promise<{ pages: ReadPageAnswer[]; added: string[]; replaced: string[] }> {
  const { db, compute } = deps;
  await findTypeface(db, who.workspaceId, typefaceId);
  const sheets = await db.getRepository(SheetEntity).findBy({ typefaceId });
  const plans = sheets.map((s) => s.plan);
  const pages = await withBody(request, async (path) => {
    const count = await compute.run('countPages', [path], true);
    const out: ShownPage[] = [];
    // Page by page: one that cannot be read is told, and the others go on.
    for (let page = 1; page <= count; page++) {
      current()?.progress?.(page - 1, count, `Page ${page} of ${count}`);
      out.push(
        await compute.run('readSheetPage', [path, page, plans], true).catch((error: unknown): ShownPage => {
          if (!(error instanceof ComputeError) || error.busy || error.cancelled || (count === 1 && !error.gaveUp)) throw error;
          return unreadPage(count === 1 ? error.message : `Page ${page} of the file: ${error.message}`);
        }),
      );
    }
    return out;
  });
  const usable = pages.filter((p) => !p.findings.some((f) => f.severity === 'stops'));
  const boxes = usable.flatMap((p) =>
    p.boxes
      .filter((b) => b.ink.length > 0 && !b.findings.some((f) => f.severity === 'stops'))
      .map((b): Incoming => ({ character: b.character, variant: b.variant, ink: b.ink, from: `Page ${p.page} of a sheet` })),
  );
  const learned = usable.flatMap((p) => (p.learned === null ? [] : [p.learned]));
  const kept = await db.transaction(async (manager) => {
    const out = await keep(manager, who.workspaceId, typefaceId, boxes);
    if (learned.length > 0) {
      const row = await findTypeface(manager, who.workspaceId, typefaceId);
      await touch(manager, typefaceId, { ...row.choices, learned: learned.reduce((s, v) => s + v, 0) / learned.length });
    }
    return out;
  });
  return {
    ...kept,
    pages: pages.map((p) => ({
      page: p.page,
      pages: p.pages,
      findings: p.findings,
      taken: p.findings.some((f) => f.severity === 'stops')
        ? []
        : p.boxes
            .filter((b) => b.ink.length > 0 && !b.findings.some((f) => f.severity === 'stops'))
            .map(({ character, variant }) => ({ character, variant })),
      boxes: p.boxes
        .filter((b) => b.findings.length > 0)
        .map(({ character, variant, findings, corners }) => ({ character, variant, findings, corners })),
      picture: p.picture,
      words: p.learned !== null,
    })),
  };
}

/** Takes letters that were drawn as vectors, or on screen. */
export async function addLetters(
  { db, compute }: Deps,
  who: Who,
  typefaceId: string,
  {
    files,
    boxes,
  }: {
    files: { path: string; text: string }[];
    boxes: { character: string; variant: number; width: number; height: number; gray: string }[];
  },
): Promise<{ added: string[]; replaced: string[]; told: string[] }> {
  await findTypeface(db, who.workspaceId, typefaceId);
  const told: string[] = [];
  const traced: Contour[][] = [];
  for (const { width, height, gray, character } of boxes)
    traced.push(
      await compute.run('traceBox', [{ width, height, gray }], true).catch((error: unknown): Contour[] => {
        if (!(error instanceof ComputeError) || !error.gaveUp) throw error;
        told.push(`“${character}”: ${error.message}`);
        return [];
      }),
    );
  const letters: { character: string; ink: Contour[]; from: string }[] = [];
  for (const file of files) {
    const read = await compute.run('vectorLetters', [[file], { xHeight: 480, capHeight: 700 }], true).catch((error: unknown) => {
      if (!(error instanceof ComputeError) || !error.gaveUp) throw error;
      return { letters: [], told: [`${file.path}: ${error.message}`] };
    });
    letters.push(...read.letters);
    told.push(...read.told);
  }
  const incoming: Incoming[] = letters.map((l) => ({ ...l, variant: 0 }));
  boxes.forEach((b, i) => {
    if (traced[i]!.length > 0) incoming.push({ character: b.character, variant: b.variant, ink: traced[i]!, from: 'Drawn on screen' });
    else told.push(`Nothing was drawn for “${b.character}”.`);
  });
  const kept = await db.transaction((manager) => keep(manager, who.workspaceId, typefaceId, incoming));
  return { ...kept, told };
}

/** One letter with its outline as points. */
export async function describeLetter({ db, compute }: Deps, workspaceId: string, typefaceId: string, id: string): Promise<TypefaceLetter> {
  await findTypeface(db, workspaceId, typefaceId);
  const row = await db.getRepository(LetterEntity).findOneBy({ id, typefaceId });
  if (!row || row.removedAt) throw notFound('This letter');
  const { ink, outline, steps } = await compute.run('letterPoints', [{ ink: row.ink, steps: row.steps }], true);
  return {
    id,
    character: row.character,
    variant: row.variant,
    from: row.fromName,
    ink,
    outline: outline.map((c) => ({ start: [c.start[0], c.start[1]], segments: c.segments.map((s) => [...s]) })),
    steps,
  };
}

/** Carries one act out; all of it or nothing. */
export async function changeLetters({ db, compute }: Deps, who: Who, typefaceId: string, act: TypefaceAct): Promise<void> {
  const row = await findTypeface(db, who.workspaceId, typefaceId);
  // Heights are of the whole plan, which is worked out before anything is locked.
  const plan = act.act === 'heights' ? await compute.run('planFace', [coreTypeface(row, await lettersOfFace(db, typefaceId))], true) : null;
  await db.transaction(async (manager) => {
    await manager.query('SELECT id FROM typeface WHERE id = ? FOR UPDATE', [typefaceId]);
    const repository = manager.getRepository(LetterEntity);
    const found = async (ids: readonly string[], removed: boolean): Promise<LetterRow[]> => {
      const rows = (await repository.findBy({ id: In([...ids]), typefaceId })).filter((r) => (r.removedAt !== null) === removed);
      if (rows.length < new Set(ids).size) throw notFound('One of these letters');
      return rows;
    };
    const { choices } = await findTypeface(manager, who.workspaceId, typefaceId);
    switch (act.act) {
      case 'step':
        for (const l of await found(act.ids, false)) {
          if (l.steps.length >= 200)
            throw conflict(`“${l.character}” has 200 steps already. Take some back, or redraw it; nothing was changed.`);
          await repository.update({ id: l.id }, { steps: [...l.steps, act.step] as never });
        }
        return touch(manager, typefaceId);
      case 'unstep':
        for (const l of await found(act.ids, false))
          await repository.update({ id: l.id }, { steps: (act.at === null ? [] : l.steps.filter((_, i) => i !== act.at)) as never });
        return touch(manager, typefaceId);
      case 'remove':
        await found(act.ids, false);
        await repository.update({ id: In(act.ids) }, { removedAt: new Date() });
        return touch(manager, typefaceId);
      case 'restore': {
        const rows = await found(act.ids, true);
        for (const l of rows)
          await repository.update({ typefaceId, character: l.character, variant: l.variant }, { removedAt: l.removedAt ?? new Date() });
        await repository.update({ id: In(act.ids) }, { removedAt: null });
        return touch(manager, typefaceId);
      }
      case 'borrow': {
        const [from] = await found([act.from], false);
        await keep(manager, who.workspaceId, typefaceId, [{ ...act.to, ink: [...from!.ink], from: `Taken from “${from!.character}”` }]);
        const [copy] = (await lettersOfFace(manager, typefaceId)).filter(
          (l) => l.character === act.to.character && l.variant === act.to.variant,
        );
        await repository.update({ id: copy!.id }, { steps: from!.steps as never });
        return;
      }
      case 'heights': {
        for (const l of await found(act.ids, false)) {
          const glyph = plan!.glyphs.find((g) => g.letterKey === `${l.character}/${l.variant}`);
          const wanted = act.to === 'capitals' ? plan!.heights.capHeight : plan!.heights.xHeight;
          if (!glyph || glyph.top <= 0) continue;
          const steps = [
            ...l.steps,
            ...(Math.abs(glyph.bottom) > 2 ? [{ step: 'move' as const, x: 0, y: Math.round(-glyph.bottom * 10) / 10 }] : []),
          ];
          const by = Math.min(5, Math.max(0.2, wanted / (glyph.top - glyph.bottom)));
          if (Math.abs(by - 1) > 0.005) steps.push({ step: 'scale', by: Math.round(by * 10_000) / 10_000 });
          await repository.update({ id: l.id }, { steps: steps.slice(-200) as never });
        }
        return touch(manager, typefaceId);
      }
      case 'adjust': {
        const { [act.character]: _, ...rest } = choices.adjusted;
        return touch(manager, typefaceId, {
          ...choices,
          adjusted: act.shifts.length > 0 ? { ...rest, [act.character]: act.shifts } : rest,
        });
      }
      case 'sides': {
        const { [act.character]: _, ...rest } = choices.spacing;
        const { left, right, leftAs, rightAs } = act;
        const none = left === null && right === null && leftAs === null && rightAs === null;
        return touch(manager, typefaceId, {
          ...choices,
          spacing: none ? rest : { ...rest, [act.character]: { left, right, leftAs, rightAs } },
        });
      }
      case 'pair': {
        const others = choices.kerning.filter((p) => !(p.left === act.left && p.right === act.right));
        const { left, right, value } = act;
        return touch(manager, typefaceId, { ...choices, kerning: value === null ? others : [...others, { left, right, value }] });
      }
      case 'white':
        return touch(manager, typefaceId, { ...choices, white: act.white });
      case 'features':
        return touch(manager, typefaceId, {
          ...choices,
          kern: act.kern,
          turns: act.turns,
          tabular: act.tabular,
          connected: act.connected ?? choices.connected ?? false,
        });
    }
  });
}

/** Makes a typeface of the file of a kit. */
export async function restoreTypeface({ db, compute }: Deps, who: Who, request: Request): Promise<string> {
  const { typeface } = await withBody(request, (path) => compute.run('readTypefaceFile', [path], true));
  const { facts, wish, letters, adjusted, spacing, kerning, learned, white, kern, turns, tabular, connected } = typeface;
  ensureDrawable({ ...wish, languages: [...wish.languages], ligatures: [...wish.ligatures] });
  const row = freshTypeface(
    who,
    facts,
    { ...wish, languages: [...wish.languages], ligatures: [...wish.ligatures] },
    {
      adjusted: Object.fromEntries(Object.entries(adjusted).map(([c, shifts]) => [c, [...shifts]])),
      spacing: { ...spacing },
      kerning: [...kerning],
      learned,
      white,
      kern,
      turns,
      tabular,
      connected,
    },
  );
  await db.transaction(async (manager) => {
    await ensureFreeName(manager, who.workspaceId, facts, row.id);
    await manager.getRepository(TypefaceEntity).insert(row as never);
    const rows = letters.map((l): LetterRow => ({
      id: randomUUID(),
      workspaceId: who.workspaceId,
      typefaceId: row.id,
      character: l.character,
      variant: l.variant,
      ink: [...l.ink],
      steps: [...l.steps],
      fromName: 'Brought back from its file',
      createdAt: new Date(),
      removedAt: null,
    }));
    for (let i = 0; i < rows.length; i += 50) await manager.getRepository(LetterEntity).insert(rows.slice(i, i + 50) as never);
  });
  return row.id;
}
