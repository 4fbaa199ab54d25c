import { findFaces } from '../faces/index.js';
import { language, scriptName } from '@orderly-glyph/core';
import { characterNames } from '@orderly-glyph/node';
import type { LanguageNeeds, LanguageTable } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';
import { invalid } from '../../platform/http/problem.js';
import { nearLanguages } from './library.js';
import { ReadyTextEntity } from './rows.js';
import type { Snapshots } from './snapshot.js';

/** Which families write which languages: those asked for, or those of the workspace's ready texts. */
export async function languageTable(
  db: DataSource,
  snapshots: Snapshots,
  workspaceId: string,
  tags: readonly string[],
): Promise<LanguageTable> {
  const asked =
    tags.length > 0
      ? tags
      : (await db.getRepository(ReadyTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } })).map((t) => t.language);
  const columns = [...new Set(asked)].flatMap((tag) => language(tag) ?? []).slice(0, 60);
  const { library } = await snapshots.get(workspaceId);
  const shown = library.families.filter((f) => !f.archived);
  const near = await nearLanguages(db, workspaceId);
  return {
    languages: columns.map((l) => ({ tag: l.tag, name: l.name, script: scriptName(l.script) })),
    families: shown.map((f) => {
      const full = new Set(f.languages);
      const nearly = near.get(f.leadFaceId);
      return {
        id: f.id,
        name: f.name,
        faceId: f.leadFaceId,
        cells: columns.map((l) => (full.has(l.tag) ? 'f' : nearly?.includes(l.tag) ? 'n' : '-')).join(''),
      };
    }),
  };
}

/** What a face would need for a language, letter by letter, with Unicode's names. */
export async function describeNeeds(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceId: string,
  tag: string,
): Promise<LanguageNeeds> {
  const [lead] = await findFaces(db, workspaceId, [faceId]);
  const wanted = language(tag);
  if (!wanted) throw invalid('There is no such language.', 'language');
  const needs = await compute.run('needs', [await getBlob(db.manager, workspaceId, lead!.sha256), lead!.faceIndex, tag], true);
  const nameOf = await characterNames();
  const describe = (text: string): { character: string; codePoint: string; name: string } => ({
    character: text,
    codePoint: [...text].map((c) => `U+${c.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`).join(' '),
    name: [...text].map((c) => nameOf(c.codePointAt(0)!)).join(' with '),
  });
  return {
    face: `${lead!.familyName} ${lead!.style}`,
    language: wanted.name,
    level: needs?.level ?? 'none',
    letters: (needs?.letters ?? []).map(describe),
    inBrowsers: needs?.inBrowsers ?? 0,
    marks: (needs?.marks ?? []).map(describe),
    failure: needs?.failure ?? null,
  };
}
