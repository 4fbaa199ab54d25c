import { randomUUID } from 'node:crypto';
import { freeName, verdict, type GivenDrawing, type Icon, type TakenDrawing } from '@orderly-glyph/core';
import type { IconAct } from '@orderly-glyph/schema';
import type { Request } from 'express';
import { In, type DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import { ComputeError, type Compute } from '../../platform/compute/pool.js';
import { brokenShape, type ShapedIcon, type TakenIcons, type TextFont } from '../../platform/compute/work/icons.js';
import { current } from '../../platform/context/current.js';
import { conflict, notFound } from '../../platform/http/problem.js';
import { withBody } from '../../platform/http/upload.js';
import { todayOf } from '../accounts/index.js';
import { findFaces } from '../faces/index.js';
import { licensesOf } from '../library/index.js';
import { licenseRecord } from '../licenses/index.js';
import { codesOf, drawingsOf, ensureFree, ensureSound, findSet, freshSet, touch, wordOf, type Who } from './icon-sets.js';
import { DrawingEntity, IconCode, IconSetEntity, type DrawingRow, type IconChoices } from './rows.js';

export interface Deps {
  db: DataSource;
  compute: Compute;
}

/** Drawings that a set holds at most, and those that come at once. */
const MOST_DRAWINGS = 6000;
const MOST_AT_ONCE = 3000;
const choicesOf = ({ id: _, svg: __, ...choices }: Icon): IconChoices => choices;

/** Takes drawings in; what cannot be read is told by file, and the rest is kept. */
export async function addDrawings(
  { db, compute }: Deps,
  who: Who,
  setId: string,
  given: readonly GivenDrawing[] | { zip: string },
  by: 'itself' | 'groups',
  from: { faceId: string; name: string } | null = null,
): Promise<TakenDrawing[]> {
  const set = await findSet(db, who.workspaceId, setId);
  const before = await drawingsOf(db, setId);
  const known = before.map((d) => ({ id: d.id, ...d.icon }));
  const room = Math.min(MOST_AT_ONCE, MOST_DRAWINGS - before.length);
  const ids = Array.from({ length: Math.max(0, room) }, () => randomUUID());
  const made = await compute.run('takeIcons', [known, given, by, ids], true);
  const fonts = from === null ? await facesFor({ db, compute }, who, made.families) : [];
  const shaped = await shapeAll(compute, made.icons, set.facts.smallest, fonts);
  const icons = made.icons.map((icon, i) => ({ ...icon, ...shaped[i]! }));
  const drawnIn = (icon: (typeof icons)[number]): { faceId: string; name: string } | null =>
    from ?? fonts.find((f) => icon.drawnIn.includes(f.family)) ?? null;
  await db.transaction(async (manager) => {
    await manager.query('SELECT id FROM icon_set WHERE id = ? FOR UPDATE', [setId]);
    const now = await drawingsOf(manager, setId);
    const here = new Map(now.map((d) => [d.id, d]));
    const taken = new Set(now.flatMap((d) => [d.icon.name, ...d.icon.aliases]));
    let position = now.reduce((most, d) => Math.max(most, d.position), -1);
    const fresh: DrawingRow[] = [];
    for (const icon of icons) {
      const old = here.get(icon.id);
      if (old) {
        await manager.getRepository(DrawingEntity).update(
          { id: old.id },
          {
            svg: icon.svg,
            shape: icon.shape as never,
            original: icon.original.slice(0, 1000),
            fromFaceId: drawnIn(icon)?.faceId ?? null,
            fromName: drawnIn(icon)?.name ?? null,
          },
        );
        continue;
      }
      // Somebody may have brought one of the same name in meanwhile.
      const name = freeName(icon.name, taken);
      taken.add(name);
      fresh.push({
        // What was taken out of the set while its file was read comes back as a new drawing; the old one can still be restored.
        id: known.some((k) => k.id === icon.id) ? randomUUID() : icon.id,
        workspaceId: who.workspaceId,
        setId,
        position: ++position,
        original: icon.original.slice(0, 1000),
        icon: { ...choicesOf(pick(icon)), name },
        svg: icon.svg,
        shape: icon.shape,
        fromFaceId: drawnIn(icon)?.faceId ?? null,
        fromName: drawnIn(icon)?.name ?? null,
        removedAt: null,
        releasedPath: null,
      });
    }
    for (let i = 0; i < fresh.length; i += 100) await manager.getRepository(DrawingEntity).insert(fresh.slice(i, i + 100) as never);
    await touch(manager, set);
  });
  return made.taken;
}

/** Drawings that are read at once; each is an order of its own, so that others' work comes between them. */
const AT_ONCE = 6;

/**
 * Reads drawings as they are shown, each by itself: one that breaks its reader, or takes more time or memory than it may, is
 * shown as empty with the reason, and the others go on.
 */
async function shapeAll(
  compute: Compute,
  icons: readonly Pick<Icon, 'svg' | 'inking' | 'cut' | 'place' | 'name'>[],
  smallest: number,
  fonts: readonly TextFont[] = [],
): Promise<ShapedIcon[]> {
  const out = new Array<ShapedIcon>(icons.length);
  let next = 0;
  let done = 0;
  const one = async (): Promise<void> => {
    for (let i = next++; i < icons.length; i = next++) {
      const { svg, inking, cut, place, name } = icons[i]!;
      const own = fonts.filter((f) => svg.toLowerCase().includes(f.family.toLowerCase())).map(({ family, bytes }) => ({ family, bytes }));
      out[i] = await compute.run('shapeIcon', [{ svg, inking, cut, place }, smallest, own], true).catch((error: unknown): ShapedIcon => {
        if (!(error instanceof ComputeError) || !error.gaveUp) throw error;
        return { svg, drawnIn: [], shape: brokenShape(`${error.message} Draw it more simply.`) };
      });
      current()?.progress?.(++done, icons.length, name);
    }
  };
  await Promise.all(Array.from({ length: Math.min(AT_ONCE, icons.length) }, one));
  return out;
}

/** Faces of the library of these names whose license allows making shapes of them. */
async function facesFor(
  { db, compute }: Deps,
  who: Who,
  families: readonly string[],
): Promise<{ family: string; faceId: string; name: string; bytes: Uint8Array }[]> {
  if (families.length === 0) return [];
  const rows = (await db.query(
    'SELECT face.id, family.name AS family FROM face JOIN family ON family.id = face.family_id WHERE face.workspace_id = ? AND family.name IN (?) ORDER BY ABS(CAST(face.weight_class AS SIGNED) - 400), face.id',
    [who.workspaceId, families],
  )) as { id: string; family: string }[];
  const first = [...new Map([...rows].reverse().map((r) => [r.family.toLowerCase(), r.id])).values()];
  if (first.length === 0) return [];
  const today = await todayOf(db, who.workspaceId);
  const licenses = await licensesOf(db, who.workspaceId, first);
  const out: { family: string; faceId: string; name: string; bytes: Uint8Array }[] = [];
  for (const lead of await findFaces(db, who.workspaceId, first)) {
    const may = verdict('changing', (licenses.get(lead.faceId) ?? []).map(licenseRecord), lead.facts.embedding, today, {
      change: 'subset',
    });
    if (may.answer !== 'yes') continue;
    out.push({
      family: lead.familyName,
      faceId: lead.faceId,
      name: `${lead.familyName} ${lead.style}`,
      bytes: (await compute.run('plain', [await getBlob(db.manager, who.workspaceId, lead.sha256), lead.faceIndex], true)).sfnt,
    });
  }
  return out;
}

const pick = ({
  id,
  name,
  aliases,
  codePoint,
  characters,
  words,
  svg,
  inking,
  beneath,
  cut,
  place,
  mirror,
}: TakenIcons['icons'][number]): Icon => ({
  id,
  name,
  aliases,
  codePoint,
  characters,
  words,
  svg,
  inking,
  beneath,
  cut,
  place,
  mirror,
});

/** Glyphs of a face as drawings, where its license allows changing it. */
export async function pickGlyphs(
  deps: Deps,
  who: Who,
  setId: string,
  faceId: string,
  characters: readonly number[],
): Promise<TakenDrawing[]> {
  const { db, compute } = deps;
  const [lead] = await findFaces(db, who.workspaceId, [faceId]);
  const name = `${lead!.familyName} ${lead!.style}`;
  const licenses = (await licensesOf(db, who.workspaceId, [faceId])).get(faceId) ?? [];
  const may = verdict('changing', licenses.map(licenseRecord), lead!.facts.embedding, await todayOf(db, who.workspaceId), {
    change: 'subset',
  });
  if (may.answer !== 'yes')
    throw conflict(
      `Drawings of ${name} cannot go into a font of yours: ${may.reasons[0] ?? 'nobody gave the right to change it.'} Nothing was taken.`,
    );
  const bytes = await getBlob(db.manager, who.workspaceId, lead!.sha256);
  const drawn = await compute.run('glyphDrawings', [bytes, lead!.faceIndex, [...characters]], true);
  if (drawn.length === 0) throw conflict(`${name} draws none of these characters. Nothing was taken.`);
  return addDrawings(
    deps,
    who,
    setId,
    drawn.map(({ path, text }) => ({ path, text })),
    'itself',
    { faceId, name },
  );
}

/** Drawings of another set, as they are there. */
export async function copyDrawings(
  { db }: Deps,
  who: Who,
  setId: string,
  fromSetId: string,
  drawingIds: readonly string[],
): Promise<TakenDrawing[]> {
  const set = await findSet(db, who.workspaceId, setId);
  await findSet(db, who.workspaceId, fromSetId);
  const rows = (await drawingsOf(db, fromSetId)).filter((d) => drawingIds.includes(d.id));
  if (rows.length === 0) throw notFound('One of these drawings');
  const taken: TakenDrawing[] = [];
  await db.transaction(async (manager) => {
    await manager.query('SELECT id FROM icon_set WHERE id = ? FOR UPDATE', [setId]);
    const now = await drawingsOf(manager, setId);
    const names = new Set(now.flatMap((d) => [d.icon.name, ...d.icon.aliases]));
    let position = now.reduce((most, d) => Math.max(most, d.position), -1);
    const ids = new Map(rows.map((row) => [row.id, randomUUID()]));
    for (const row of rows) {
      const name = freeName(row.icon.name, names);
      names.add(name);
      const id = ids.get(row.id)!;
      // Names, words and code points are the other set's own.
      const beneath = ids.get(row.icon.beneath ?? '') ?? null;
      const icon: IconChoices = { ...row.icon, name, aliases: [], codePoint: null, characters: [], words: [], beneath };
      await manager.getRepository(DrawingEntity).insert({ ...row, id, setId, position: ++position, icon, releasedPath: null } as never);
      taken.push({
        path: row.icon.name,
        added: [id],
        replaced: [],
        notes: name === row.icon.name ? [] : [`“${row.icon.name}” is called “${name}” here.`],
        refused: null,
      });
    }
    await touch(manager, set);
  });
  return taken;
}

/** Carries one act out on some drawings; all of it or nothing. */
export async function changeDrawings({ db, compute }: Deps, who: Who, setId: string, act: IconAct): Promise<void> {
  const set = await findSet(db, who.workspaceId, setId);
  const all = await db.getRepository(DrawingEntity).findBy({ setId });
  const there = (row: DrawingRow): boolean => (act.act === 'restore' ? row.removedAt !== null : row.removedAt === null);
  const chosen = all.filter((row) => act.ids.includes(row.id) && there(row));
  if (chosen.length < new Set(act.ids).size) throw notFound('One of these drawings');
  // What was split off a drawing goes where it goes.
  const layers = TOGETHER.has(act.act) ? all.filter((row) => there(row) && !act.ids.includes(row.id) && splitFrom(row, chosen)) : [];
  const rows = [...chosen, ...layers];
  const codes = await codesOf(db, setId);
  const locked = new Map(codes.map((c) => [c.codePoint, c]));
  let changed = rows.map((row): DrawingRow => ({ ...row, icon: changedBy(row, act) }));
  if (act.act === 'even-out') evenOut(changed, layers);
  const fresh: DrawingRow[] = [];
  const gone: string[] = [];
  if (act.act === 'split') {
    const names = new Set(all.flatMap((d) => (d.removedAt === null ? [d.icon.name, ...d.icon.aliases] : [])));
    changed = changed.filter((row) => row.icon.inking !== 'back' && row.icon.beneath === null);
    for (const row of changed) {
      const name = freeName(`${row.icon.name.slice(0, 50).replace(/-+$/, '')}-beneath`, names);
      names.add(name);
      const icon: IconChoices = { ...row.icon, name, inking: 'back', aliases: [], codePoint: null, characters: [], words: [] };
      fresh.push({ ...row, id: randomUUID(), icon, releasedPath: null });
      row.icon = { ...row.icon, inking: 'front', beneath: fresh[fresh.length - 1]!.id };
    }
    if (changed.length === 0) throw conflict('These have two layers already. Nothing was changed.');
    if (all.filter((d) => d.removedAt === null).length + fresh.length > MOST_DRAWINGS)
      throw conflict(`A set holds ${MOST_DRAWINGS.toLocaleString('en-US')} drawings at most. Nothing was changed.`);
  }
  if (act.act === 'join' || act.act === 'inking')
    gone.push(...all.filter((row) => row.removedAt === null && splitFrom(row, chosen)).map((row) => row.id));
  for (const [i, row] of changed.entries()) {
    const own = codes.find((c) => c.drawingId === row.id && c.codePoint === rows[i]!.icon.codePoint);
    if (own && row.icon.codePoint !== own.codePoint)
      throw conflict(`“${row.icon.name}” was released with its code point, which never moves. Nothing was changed.`);
    const other = row.icon.codePoint === null ? undefined : locked.get(row.icon.codePoint);
    if (other && other.drawingId !== row.id)
      throw conflict(`That code point belongs to “${other.name}” since a release; it never means anything else. Nothing was changed.`);
  }
  const looks = ['inking', 'cut', 'place', 'unplace', 'even-out', 'split', 'join'].includes(act.act);
  if (looks) {
    const drawn = [...changed, ...fresh];
    const shapes = await shapeAll(
      compute,
      drawn.map((r) => ({ svg: r.svg, inking: r.icon.inking, cut: r.icon.cut, place: r.icon.place, name: r.icon.name })),
      set.facts.smallest,
    );
    shapes.forEach(({ shape }, i) => (drawn[i]!.shape = shape));
    const flat = new Set(fresh.filter((d) => d.shape.path === '').map((d) => d.id));
    changed = changed.filter((d) => !flat.has(d.icon.beneath ?? ''));
    for (const id of flat)
      fresh.splice(
        fresh.findIndex((d) => d.id === id),
        1,
      );
    if (act.act === 'split' && fresh.length === 0)
      throw conflict('All of it is of one tone; there is nothing to put beneath. Nothing was changed.');
  }
  await db.transaction(async (manager) => {
    await manager.query('SELECT id FROM icon_set WHERE id = ? FOR UPDATE', [setId]);
    const repository = manager.getRepository(DrawingEntity);
    if (act.act === 'remove') await repository.update({ id: In(rows.map((r) => r.id)) }, { removedAt: new Date() });
    else if (act.act === 'restore') await repository.update({ id: In(rows.map((r) => r.id)) }, { removedAt: null });
    else
      for (const row of changed)
        await repository.update({ id: row.id }, { icon: row.icon as never, ...(looks ? { shape: row.shape as never } : {}) });
    if (gone.length > 0) await repository.update({ id: In(gone) }, { removedAt: new Date() });
    let position = fresh.length > 0 ? Math.max(...(await drawingsOf(manager, setId)).map((d) => d.position)) : 0;
    if (fresh.length > 0) await repository.insert(fresh.map((row) => ({ ...row, position: ++position })) as never);
    ensureSound(set, await drawingsOf(manager, setId), codes);
    await touch(manager, set);
  });
}

/** Acts that a layer which was split off takes part in. */
const TOGETHER = new Set<IconAct['act']>(['cut', 'mirror', 'place', 'unplace', 'even-out', 'remove', 'restore']);

/** Whether a drawing is the lighter layer that was split off one of these. */
const splitFrom = ({ id, icon }: DrawingRow, rows: readonly DrawingRow[]): boolean =>
  icon.inking === 'back' && rows.some((r) => r.icon.inking === 'front' && r.icon.beneath === id);

function changedBy({ icon }: DrawingRow, act: IconAct): IconChoices {
  switch (act.act) {
    case 'rename': {
      const aliases = icon.aliases.filter((a) => a !== act.name);
      return { ...icon, name: act.name, aliases: act.keepOld && icon.name !== act.name ? [...aliases, icon.name] : aliases };
    }
    case 'aliases':
      return { ...icon, aliases: act.aliases };
    case 'code':
      return { ...icon, codePoint: act.codePoint };
    case 'characters':
      return { ...icon, characters: [...new Set(act.characters)] };
    case 'words':
      return { ...icon, words: [...new Set(act.words)] };
    case 'words-by-name':
      return { ...icon, words: [...new Set([...icon.words, ...wordOf(icon.name)])] };
    case 'inking':
      return { ...icon, inking: act.inking, beneath: icon.inking === 'front' ? null : icon.beneath };
    case 'join':
      return { ...icon, inking: icon.inking === 'front' ? null : icon.inking, beneath: null };
    case 'beneath':
      return { ...icon, beneath: act.beneath };
    case 'cut':
      return { ...icon, cut: act.cut };
    case 'mirror':
      return { ...icon, mirror: act.mirror };
    case 'place':
      return { ...icon, place: [...icon.place, act.step].slice(-100) };
    case 'unplace':
      return { ...icon, place: act.at === null ? [] : icon.place.filter((_, i) => i !== act.at) };
    case 'split':
    case 'even-out':
    case 'remove':
    case 'restore':
      return icon;
  }
}

/** Scales drawings to the size that is usual among them, as far as their boards have room; layers as what lies over them. */
function evenOut(all: readonly DrawingRow[], layers: readonly DrawingRow[]): void {
  const under = new Set(layers.map((l) => l.id));
  const rows = all.filter((r) => !under.has(r.id));
  const looks = rows.map(({ shape }) =>
    Math.sqrt(Math.max(shape.inkWidth, shape.inkHeight) * Math.sqrt(Math.max(1e-9, shape.inkWidth * shape.inkHeight))),
  );
  const usual = [...looks].filter((s) => s > 0).sort((a, b) => a - b)[Math.floor(looks.length / 2)] ?? 1;
  rows.forEach((row, i) => {
    if (!(looks[i]! > 0)) return;
    const room = 0.98 / Math.max(row.shape.inkWidth, row.shape.inkHeight);
    const by = Math.round(Math.min(usual / looks[i]!, room) * 1000) / 1000;
    if (Math.abs(by - 1) < 0.02) return;
    // About its own middle: what stands beside the middle of the board would leave it.
    for (const one of [row, ...all.filter((r) => under.has(r.id) && r.id === row.icon.beneath)])
      one.icon = {
        ...one.icon,
        place: [
          ...one.icon.place,
          { step: 'align' as const, to: 'middle' as const },
          { step: 'scale' as const, by: Math.min(20, Math.max(0.05, by)) },
        ].slice(-100),
      };
  });
}

/** Makes a set of the file of a kit: sources, names, code points and what was given away. */
export async function restoreSet({ db, compute }: Deps, who: Who, request: Request): Promise<string> {
  const { set } = await withBody(request, (path) => compute.run('readIconFile', [path], true));
  const shapes = (await shapeAll(compute, set.icons, set.facts.smallest)).map((s) => s.shape);
  const row = freshSet(who, set.facts);
  // Ids are the database's own; what the file calls a drawing only ties its code points to it.
  const ids = new Map(set.icons.map((i) => [i.id, randomUUID()]));
  await db.transaction(async (manager) => {
    await ensureFree(manager, who.workspaceId, row.facts, row.id);
    await manager.getRepository(IconSetEntity).insert(row as never);
    const given = new Set(set.given.map((g) => g.name));
    const rows = set.icons.map((icon, position): DrawingRow => ({
      id: ids.get(icon.id)!,
      workspaceId: who.workspaceId,
      setId: row.id,
      position,
      original: icon.name,
      icon: { ...choicesOf(icon), beneath: ids.get(icon.beneath ?? '') ?? null },
      svg: icon.svg,
      shape: shapes[position]!,
      fromFaceId: null,
      fromName: null,
      removedAt: null,
      releasedPath: given.has(icon.id) ? shapes[position]!.path : null,
    }));
    for (let i = 0; i < rows.length; i += 100) await manager.getRepository(DrawingEntity).insert(rows.slice(i, i + 100) as never);
    const codes = set.given.map(({ codePoint, name }) => ({
      setId: row.id,
      codePoint,
      workspaceId: who.workspaceId,
      drawingId: ids.get(name) ?? randomUUID(),
      name: (set.icons.find((i) => i.id === name)?.name ?? name).slice(0, 120),
      sinceRelease: 0,
    }));
    if (codes.length > 0) await manager.getRepository(IconCode).insert(codes);
    ensureSound(row, rows, codes);
  });
  return row.id;
}
