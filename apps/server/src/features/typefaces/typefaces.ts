import { randomUUID } from 'node:crypto';
import { DRAWN_SCRIPTS, language, openCells, sampleOf, typefaceStops, type Typeface as CoreTypeface } from '@orderly-glyph/core';
import type { CharacterWish, Typeface, TypefaceBrief, TypefaceFacts } from '@orderly-glyph/schema';
import { LRUCache } from 'lru-cache';
import { In, IsNull, type DataSource, type EntityManager } from 'typeorm';
import type { Compute } from '../../platform/compute/pool.js';
import type { ShownPlan } from '../../platform/compute/work/typefaces.js';
import { invalid, notFound, stale } from '../../platform/http/problem.js';
import {
  LetterEntity,
  SheetEntity,
  TypefaceEntity,
  TypefaceReleaseEntity,
  TypefaceReleaseFile,
  type LetterRow,
  type TypefaceChoices,
  type TypefaceNote,
  type TypefaceRow,
} from './rows.js';

export interface Who {
  workspaceId: string;
  name: string;
}
export interface Deps {
  db: DataSource;
  compute: Compute;
}
type Plan = ShownPlan;

export async function findTypeface(db: DataSource | EntityManager, workspaceId: string, id: string): Promise<TypefaceRow> {
  const row = await db.getRepository(TypefaceEntity).findOneBy({ id, workspaceId });
  if (!row || row.removedAt) throw notFound('This typeface');
  return row;
}

export const lettersOfFace = (db: DataSource | EntityManager, typefaceId: string): Promise<LetterRow[]> =>
  db
    .getRepository(LetterEntity)
    .find({ where: { typefaceId, removedAt: IsNull() }, order: { character: 'ASC', variant: 'ASC', id: 'ASC' } });

/** A typeface as the core makes fonts of it. */
export const coreTypeface = (row: TypefaceRow, letters: readonly LetterRow[]): CoreTypeface => ({
  facts: row.facts,
  wish: row.wish,
  letters: letters.map(({ id, character, variant, ink, steps }) => ({ id, character, variant, ink, steps })),
  ...row.choices,
  connected: row.choices.connected ?? false,
});

/** Plans by typeface and version: what was worked out once need not be again while nothing changed. */
const plans = new LRUCache<string, Plan>({ max: 60 });

async function planOf({ compute }: Deps, row: TypefaceRow, letters: readonly LetterRow[]): Promise<Plan> {
  const key = `${row.id} ${row.version}`;
  const known = plans.get(key);
  if (known) return known;
  const plan = await compute.run('planFace', [coreTypeface(row, letters)], true);
  plans.set(key, plan);
  return plan;
}

export async function describeTypeface(deps: Deps, workspaceId: string, id: string): Promise<Typeface> {
  const { db } = deps;
  const row = await findTypeface(db, workspaceId, id);
  const [letters, sheets, releases] = await Promise.all([
    lettersOfFace(db, id),
    db.getRepository(SheetEntity).find({ where: { typefaceId: id }, order: { madeAt: 'DESC' } }),
    db.getRepository(TypefaceReleaseEntity).find({
      where: { typefaceId: id },
      order: { number: 'DESC' },
      select: { id: true, number: true, day: true, notes: true, note: true, madeBy: true },
    }),
  ]);
  const plan = await planOf(deps, row, letters);
  const files =
    releases.length === 0
      ? []
      : await db.getRepository(TypefaceReleaseFile).find({ where: { releaseId: In(releases.map((r) => r.id)) }, order: { name: 'ASC' } });
  const letterOf = new Map(letters.map((l) => [`${l.character}/${l.variant}`, l.id]));
  const last = releases[0] ? (await db.getRepository(TypefaceReleaseEntity).findOneByOrFail({ id: releases[0].id })).shapes : null;
  const now = Object.fromEntries(plan.glyphs.map((g) => [`${g.character}/${g.variant}`, g.path]));
  const { choices } = row;
  return {
    id,
    facts: row.facts,
    wish: { ...row.wish, languages: [...row.wish.languages], ligatures: [...row.wish.ligatures] },
    kern: choices.kern,
    turns: choices.turns,
    tabular: choices.tabular,
    connected: choices.connected ?? false,
    white: { is: plan.white, from: plan.whiteFrom, set: choices.white, learned: choices.learned },
    version: row.version,
    heights: plan.heights,
    glyphs: plan.glyphs.map((g) => ({
      ...g,
      of: g.of === null ? null : [...g.of],
      findings: [...g.findings],
      adjusted: [...(choices.adjusted[g.character] ?? [])],
      letterId: letterOf.get(`${g.character}/${g.variant}`) ?? null,
    })),
    missing: plan.missing,
    open: openCells(coreTypeface(row, letters)),
    pairs: plan.pairs,
    pairCount: plan.pairCount,
    sheets: sheets.map((s) => ({
      id: s.id,
      paper: s.plan.paper,
      em: s.plan.em,
      boxes: s.plan.cells.length,
      pages: s.pages,
      madeAt: s.madeAt.toISOString(),
    })),
    languages: plan.languages,
    samples: samplesFor(row.wish.languages, new Set(plan.glyphs.map((g) => g.character))),
    stops: typefaceStops(coreTypeface(row, letters)),
    next: { ...noteOf(last, now), number: (releases[0]?.number ?? 0) + 1, places: await placesWith(db, workspaceId, id) },
    releases: releases.map((r) => ({
      number: r.number,
      day: r.day,
      by: r.madeBy,
      notes: r.notes,
      ...r.note,
      files: files.filter((f) => f.releaseId === r.id && f.name !== KIT).map((f) => ({ name: f.name, bytes: f.bytes, faceId: f.faceId })),
    })),
  };
}

/** Words of at most so many languages are offered. */
const MOST_SAMPLES = 8;

/** Words of the languages asked for that a face can write: a space is there always. */
function samplesFor(languages: readonly string[], has: ReadonlySet<string>): Typeface['samples'] {
  return languages
    .flatMap((tag) => {
      const text = sampleOf(tag);
      const can = text !== null && [...text.normalize('NFC')].every((c) => c === ' ' || c === '\u00a0' || has.has(c));
      return can ? [{ label: language(tag)?.name ?? tag, text }] : [];
    })
    .slice(0, MOST_SAMPLES);
}

export const KIT = 'kit.zip';

/** What became different since a release, by the paths of its glyphs. */
export function noteOf(before: Readonly<Record<string, string>> | null, now: Readonly<Record<string, string>>): TypefaceNote {
  const named = (key: string): string => {
    const [character, variant] = [key.slice(0, key.lastIndexOf('/')), key.slice(key.lastIndexOf('/') + 1)];
    return variant === '0' ? character : `${character} (${Number(variant) + 1})`;
  };
  const out: TypefaceNote = { added: [], changed: [], removed: [] };
  for (const [key, path] of Object.entries(now)) {
    const was = before?.[key];
    if (was === undefined) out.added.push(named(key));
    else if (was !== path) out.changed.push({ name: named(key), before: was, after: path });
  }
  for (const key of Object.keys(before ?? {})) if (!(key in now)) out.removed.push(named(key));
  return out;
}

/** Places that have a release of it. */
async function placesWith(db: DataSource, workspaceId: string, id: string): Promise<string[]> {
  const rows = (await db.query(
    `SELECT DISTINCT p.name AS place, r.number FROM install i JOIN place p ON p.id = i.place_id JOIN typeface_release_file f ON f.face_id = i.face_id JOIN typeface_release r ON r.id = f.release_id
     WHERE i.workspace_id = ? AND i.removed_at IS NULL AND r.typeface_id = ? ORDER BY p.name`,
    [workspaceId, id],
  )) as { place: string }[];
  return [...new Set(rows.map((r) => r.place))];
}

export async function listTypefaces(db: DataSource, workspaceId: string): Promise<TypefaceBrief[]> {
  const rows = await db.getRepository(TypefaceEntity).find({ where: { workspaceId, removedAt: IsNull() }, order: { createdAt: 'ASC' } });
  const out: TypefaceBrief[] = [];
  for (const row of rows)
    out.push({
      id: row.id,
      family: row.facts.family,
      style: row.facts.style,
      letters: await db.getRepository(LetterEntity).countBy({ typefaceId: row.id, removedAt: IsNull() }),
      release: (await db.getRepository(TypefaceReleaseEntity).maximum('number', { typefaceId: row.id })) ?? 0,
      changedAt: row.changedAt.toISOString(),
    });
  return out;
}

export const CHOICES: TypefaceChoices = {
  adjusted: {},
  spacing: {},
  kerning: [],
  learned: null,
  white: null,
  kern: true,
  turns: true,
  tabular: false,
  connected: false,
};

/** @throws HttpProblem when a language asks for what boxes cannot give */
export function ensureDrawable({ languages }: CharacterWish): void {
  for (const tag of languages) {
    const l = language(tag);
    if (!l) throw invalid(`There is no language “${tag}” here.`, 'wish');
    if (!DRAWN_SCRIPTS.includes(l.script))
      throw invalid(
        `${l.name} is written with letters that join or stack, which are not made from boxes. Latin, Cyrillic and Greek are.`,
        'wish',
      );
  }
}

export const freshTypeface = (who: Who, facts: TypefaceFacts, wish: CharacterWish, choices: TypefaceChoices): TypefaceRow => ({
  id: randomUUID(),
  workspaceId: who.workspaceId,
  facts,
  wish,
  choices,
  licenseId: null,
  version: 1,
  createdBy: who.name,
  createdAt: new Date(),
  changedAt: new Date(),
  removedAt: null,
});

/**
 * Holds the workspace until the transaction ends, so that of two of one name made at once the second finds the first.
 * @throws HttpProblem when another typeface in the making has the name: their releases would be one family
 */
export async function ensureFreeName(
  manager: EntityManager,
  workspaceId: string,
  { family, style }: Pick<TypefaceFacts, 'family' | 'style'>,
  id: string,
): Promise<void> {
  await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
  for (const other of await manager.getRepository(TypefaceEntity).findBy({ workspaceId, removedAt: IsNull() }))
    if (
      other.id !== id &&
      other.facts.family.toLowerCase() === family.toLowerCase() &&
      other.facts.style.toLowerCase() === style.toLowerCase()
    )
      throw invalid(
        `There is a typeface “${other.facts.family} ${other.facts.style}” in the making already. Choose another name; nothing was kept.`,
        'family',
      );
}

export async function createTypeface(
  db: DataSource,
  who: Who,
  { family, maker, wish }: { family: string; maker: string; wish: CharacterWish },
): Promise<string> {
  ensureDrawable(wish);
  const row = freshTypeface(who, { family, style: 'Regular', maker, license: '', licenseUrl: '', embedding: 0 }, wish, CHOICES);
  await db.transaction(async (manager) => {
    await ensureFreeName(manager, who.workspaceId, row.facts, row.id);
    await manager.getRepository(TypefaceEntity).insert(row as never);
  });
  return row.id;
}

export async function changeTypeface(
  db: DataSource,
  who: Who,
  id: string,
  facts: TypefaceFacts,
  wish: CharacterWish,
  version: number,
): Promise<void> {
  const row = await findTypeface(db, who.workspaceId, id);
  ensureDrawable(wish);
  const { affected } = await db.transaction(async (manager) => {
    await ensureFreeName(manager, who.workspaceId, facts, id);
    return manager
      .getRepository(TypefaceEntity)
      .update({ id, version }, { facts: facts as never, wish: wish as never, version: version + 1, changedAt: new Date() });
  });
  if (!affected) throw stale(`Somebody changed “${row.facts.family}” while you worked on it`);
}

/** Takes a forgotten typeface back. @throws HttpProblem when another one has its name by now */
export async function returnTypeface(db: DataSource, workspaceId: string, id: string): Promise<void> {
  const row = await db.getRepository(TypefaceEntity).findOneBy({ id, workspaceId });
  if (!row) throw notFound('This typeface');
  await db.transaction(async (manager) => {
    await ensureFreeName(manager, workspaceId, row.facts, id);
    await manager.getRepository(TypefaceEntity).update({ id }, { removedAt: null });
  });
}

/** Marks a typeface as changed within a change of it. */
export async function touch(manager: EntityManager, id: string, choices?: TypefaceChoices): Promise<void> {
  if (choices) await manager.getRepository(TypefaceEntity).update({ id }, { choices: choices as never });
  await manager.query('UPDATE typeface SET version = version + 1, changed_at = ? WHERE id = ?', [new Date(), id]);
}
