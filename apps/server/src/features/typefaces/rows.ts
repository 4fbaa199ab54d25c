import type { CharacterWish, Contour, LetterStep, Pair, SetBearings, SheetPlan, TypefaceFacts } from '@orderly-glyph/core';
import type { BytesColumn } from '../../platform/blobs/refs.js';
import { entity, json, key, long, maybe, text, time, uuid, whole, ws } from '../../platform/database/columns.js';

/** What a person decided about the whole typeface beside its facts. */
export interface TypefaceChoices {
  adjusted: Record<string, { x: number; y: number }[]>;
  spacing: Record<string, SetBearings>;
  kerning: Pair[];
  learned: number | null;
  white: number | null;
  kern: boolean;
  turns: boolean;
  tabular: boolean;
  /** Left out in typefaces of before. */
  connected?: boolean;
}

export interface TypefaceRow {
  id: string;
  workspaceId: string;
  facts: TypefaceFacts;
  wish: CharacterWish;
  choices: TypefaceChoices;
  /** The license "made here" that its fonts stand under. */
  licenseId: string | null;
  version: number;
  createdBy: string;
  createdAt: Date;
  changedAt: Date;
  removedAt: Date | null;
}
export const TypefaceEntity = entity<TypefaceRow>('typeface', {
  id: key(),
  workspaceId: ws(),
  facts: json<TypefaceFacts>('facts'),
  wish: json<CharacterWish>('wish'),
  choices: json<TypefaceChoices>('choices'),
  licenseId: uuid('license_id', maybe),
  version: whole('version'),
  createdBy: text('created_by'),
  createdAt: time('created_at'),
  changedAt: time('changed_at'),
  removedAt: time('removed_at', maybe),
});

export interface LetterRow {
  id: string;
  workspaceId: string;
  typefaceId: string;
  character: string;
  variant: number;
  ink: Contour[];
  steps: LetterStep[];
  /** Where it came from: a page of a sheet, the screen, a file. */
  fromName: string;
  createdAt: Date;
  removedAt: Date | null;
}
export const LetterEntity = entity<LetterRow>('typeface_letter', {
  id: key(),
  workspaceId: ws(),
  typefaceId: uuid('typeface_id'),
  character: text('letter', 80),
  variant: whole('variant'),
  ink: json<Contour[]>('ink'),
  steps: json<LetterStep[]>('steps'),
  fromName: text('from_name', 1000),
  createdAt: time('created_at'),
  removedAt: time('removed_at', maybe),
});

export interface SheetRow {
  id: string;
  workspaceId: string;
  typefaceId: string;
  plan: SheetPlan;
  pages: number;
  madeAt: Date;
}
export const SheetEntity = entity<SheetRow>('typeface_sheet', {
  id: { name: 'id', type: 'char', length: 16, primary: true },
  workspaceId: ws(),
  typefaceId: uuid('typeface_id'),
  plan: json<SheetPlan>('plan'),
  pages: whole('pages'),
  madeAt: time('made_at'),
});

/** What a release said of itself; pictures are paths in thousandths of the em. */
export interface TypefaceNote {
  added: string[];
  changed: { name: string; before: string; after: string }[];
  removed: string[];
}

/** A numbered build that never changes. */
export interface TypefaceReleaseRow {
  id: string;
  workspaceId: string;
  typefaceId: string;
  number: number;
  /** YYYY-MM-DD. */
  day: string;
  notes: string;
  note: TypefaceNote;
  /** Paths of its glyphs by character and variant. */
  shapes: Record<string, string>;
  /** The whole typeface as it was, in the form of its file. */
  frozen: string;
  madeBy: string;
  madeAt: Date;
}
export const TypefaceReleaseEntity = entity<TypefaceReleaseRow>('typeface_release', {
  id: key(),
  workspaceId: ws(),
  typefaceId: uuid('typeface_id'),
  number: whole('number'),
  day: { name: 'day', type: 'char', length: 10 },
  notes: { name: 'notes', type: 'text' },
  note: json<TypefaceNote>('note'),
  shapes: json<Record<string, string>>('shapes'),
  frozen: long('frozen'),
  madeBy: text('made_by'),
  madeAt: time('made_at'),
});

/** A font of a release, or its kit. */
export interface TypefaceReleaseFileRow {
  releaseId: string;
  name: string;
  workspaceId: string;
  sha256: string;
  bytes: number;
  faceId: string | null;
}
export const TypefaceReleaseFile = entity<TypefaceReleaseFileRow>('typeface_release_file', {
  releaseId: uuid('release_id', { primary: true }),
  name: text('name', 255, { primary: true }),
  workspaceId: ws(),
  sha256: { name: 'sha256', type: 'char', length: 64 },
  bytes: whole('bytes'),
  faceId: uuid('face_id', maybe),
});

export const typefacesRows = [TypefaceEntity, LetterEntity, SheetEntity, TypefaceReleaseEntity, TypefaceReleaseFile];

/** Columns of these rows that name bytes; bytes that none names are freed. */
export const typefacesBytes: readonly BytesColumn[] = [{ table: 'typeface_release_file', column: 'sha256' }];
