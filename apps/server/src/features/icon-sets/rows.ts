import type { Icon, ReleaseNote, SetFacts } from '@orderly-glyph/core';
import type { BytesColumn } from '../../platform/blobs/refs.js';
import { entity, json, key, long, maybe, text, time, uuid, whole, ws } from '../../platform/database/columns.js';
import type { IconShape } from '../../platform/compute/work/icons.js';

export interface IconSetRow {
  id: string;
  workspaceId: string;
  facts: SetFacts;
  /** The license "made here" that its fonts stand under. */
  licenseId: string | null;
  version: number;
  createdBy: string;
  createdAt: Date;
  changedAt: Date;
  removedAt: Date | null;
}
export const IconSetEntity = entity<IconSetRow>('icon_set', {
  id: key(),
  workspaceId: ws(),
  facts: json<SetFacts>('facts'),
  licenseId: uuid('license_id', maybe),
  version: whole('version'),
  createdBy: text('created_by'),
  createdAt: time('created_at'),
  changedAt: time('changed_at'),
  removedAt: time('removed_at', maybe),
});

/** What a person decided about a drawing; its SVG stands beside it. */
export type IconChoices = Omit<Icon, 'id' | 'svg'>;

export interface DrawingRow {
  id: string;
  workspaceId: string;
  setId: string;
  position: number;
  /** What its file was called. */
  original: string;
  icon: IconChoices;
  svg: string;
  /** How it is shown; computed from the rest. */
  shape: IconShape;
  fromFaceId: string | null;
  fromName: string | null;
  removedAt: Date | null;
  /** Its ink as the last release that has it froze it, as in `shape`; null: in none yet. */
  releasedPath: string | null;
}
export const DrawingEntity = entity<DrawingRow>('icon_drawing', {
  id: key(),
  workspaceId: ws(),
  setId: uuid('set_id'),
  position: whole('position'),
  original: text('original', 1000),
  icon: json<IconChoices>('icon'),
  svg: long('svg'),
  shape: json<IconShape>('shape'),
  fromFaceId: uuid('from_face_id', maybe),
  fromName: text('from_name', 1000, maybe),
  removedAt: time('removed_at', maybe),
  releasedPath: long('released_path', maybe),
});

/** What a release said of itself; pictures are paths on the square of 1,200 units. */
export interface KeptNote extends Omit<ReleaseNote, 'changed'> {
  changed: { name: string; before: string; after: string }[];
}

/** A numbered build that never changes. */
export interface IconReleaseRow {
  id: string;
  workspaceId: string;
  setId: string;
  number: number;
  /** YYYY-MM-DD. */
  day: string;
  notes: string;
  note: KeptNote;
  /** The whole set as it was, in the form of its file. */
  frozen: string;
  madeBy: string;
  madeAt: Date;
}
export const IconReleaseEntity = entity<IconReleaseRow>('icon_release', {
  id: key(),
  workspaceId: ws(),
  setId: uuid('set_id'),
  number: whole('number'),
  day: { name: 'day', type: 'char', length: 10 },
  notes: { name: 'notes', type: 'text' },
  note: json<KeptNote>('note'),
  frozen: { name: 'frozen', type: 'longtext' },
  madeBy: text('made_by'),
  madeAt: time('made_at'),
});

/** A font of a release, or its kit in one layout. */
export interface IconReleaseFileRow {
  releaseId: string;
  name: string;
  workspaceId: string;
  sha256: string;
  bytes: number;
  faceId: string | null;
}
export const IconReleaseFile = entity<IconReleaseFileRow>('icon_release_file', {
  releaseId: uuid('release_id', { primary: true }),
  name: text('name', 255, { primary: true }),
  workspaceId: ws(),
  sha256: { name: 'sha256', type: 'char', length: 64 },
  bytes: whole('bytes'),
  faceId: uuid('face_id', maybe),
});

/** A code point given away; rows are only ever added. */
export interface IconCodeRow {
  setId: string;
  codePoint: number;
  workspaceId: string;
  drawingId: string;
  name: string;
  sinceRelease: number;
}
export const IconCode = entity<IconCodeRow>('icon_code', {
  setId: uuid('set_id', { primary: true }),
  codePoint: whole('code_point', { primary: true }),
  workspaceId: ws(),
  drawingId: uuid('drawing_id'),
  name: text('name', 120),
  sinceRelease: whole('since_release'),
});

export const iconSetsRows = [IconSetEntity, DrawingEntity, IconReleaseEntity, IconReleaseFile, IconCode];

/** Columns of these rows that name bytes; bytes that none names are freed. */
export const iconSetsBytes: readonly BytesColumn[] = [{ table: 'icon_release_file', column: 'sha256' }];
