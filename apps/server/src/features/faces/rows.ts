import type { BytesColumn } from '../../platform/blobs/refs.js';
import type { FontFormat, Kind, Naming, Comparison } from '@orderly-glyph/core';
import { entity, flag, json, key, long, maybe, text, time, uuid, whole, ws } from '../../platform/database/columns.js';

export interface FileRow {
  id: string;
  workspaceId: string;
  sha256: string;
  name: string;
  format: FontFormat;
  bytes: number;
  createdAt: Date;
}

export const FileEntity = entity<FileRow>('font_file', {
  id: key(),
  workspaceId: ws(),
  sha256: { name: 'sha256', type: 'char', length: 64 },
  name: text('name', 1000),
  format: text('format', 5),
  bytes: whole('bytes'),
  createdAt: time('created_at'),
});

export interface BundleFileRow {
  bundleId: string;
  fileId: string;
  workspaceId: string;
}

export const BundleFile = entity<BundleFileRow>('bundle_file', {
  bundleId: uuid('bundle_id', { primary: true }),
  fileId: uuid('file_id', { primary: true }),
  workspaceId: ws(),
});

export interface FamilyRow {
  id: string;
  workspaceId: string;
  name: string;
  nameKey: string;
  createdAt: Date;
  /** Whether a person gave the name. */
  ownName: boolean;
  favorite: boolean;
  labels: string[] | null;
  note: string | null;
  archivedAt: Date | null;
  /** The family that took in its faces; new faces of its name go there too. */
  mergedInto: string | null;
  version: number;
}

export const FamilyEntity = entity<FamilyRow>('family', {
  id: key(),
  workspaceId: ws(),
  name: text('name'),
  nameKey: text('name_key', 190),
  createdAt: time('created_at'),
  ownName: flag('own_name'),
  favorite: flag('favorite'),
  labels: json<string[]>('labels'),
  note: long('note', maybe),
  archivedAt: time('archived_at', maybe),
  mergedInto: uuid('merged_into', maybe),
  version: whole('version'),
});

export interface FaceRow {
  id: string;
  workspaceId: string;
  familyId: string;
  faceKey: string;
  style: string;
  weightClass: number;
  widthClass: number;
  italic: boolean;
  slope: Naming['slope'];
  optical: string | null;
  /** Whether a person named the style, or put the face into its family. */
  ownStyle: boolean;
  ownFamily: boolean;
  /** What a person says its kind is. */
  kind: Kind | null;
  /** The face this one is a double of; it stands behind that one. */
  foldedInto: string | null;
  leadId: string;
  createdAt: Date;
  removedAt: Date | null;
}

export const FaceEntity = entity<FaceRow>('face', {
  id: key(),
  workspaceId: ws(),
  familyId: uuid('family_id'),
  faceKey: text('face_key', 190),
  style: text('style'),
  weightClass: whole('weight_class'),
  widthClass: whole('width_class'),
  italic: flag('italic'),
  slope: text('slope', 8),
  optical: text('optical', 60, maybe),
  ownStyle: flag('own_style'),
  ownFamily: flag('own_family'),
  kind: text('kind', 12, maybe),
  foldedInto: uuid('folded_into', maybe),
  leadId: uuid('lead_id'),
  createdAt: time('created_at'),
  removedAt: time('removed_at', maybe),
});

/** A face as one file holds it; what is derived of it stands in the table of facts, since two files of a face may differ. */
export interface FaceFileRow {
  id: string;
  workspaceId: string;
  faceId: string;
  fileId: string;
  faceIndex: number;
  removedAt: Date | null;
}
export const FaceFile = entity<FaceFileRow>('face_file', {
  id: key(),
  workspaceId: ws(),
  faceId: uuid('face_id'),
  fileId: uuid('file_id'),
  faceIndex: whole('face_index'),
  removedAt: time('removed_at', maybe),
});

/** A fact of a face, and the version of the code it was made by. Its value is JSON; `null` where a face is too damaged for it. */
export interface FactRow {
  fileId: string;
  faceIndex: number;
  id: string;
  workspaceId: string;
  version: number;
  value: string;
}
export const Fact = entity<FactRow>('derived', {
  fileId: uuid('file_id', { primary: true }),
  faceIndex: whole('face_index', { primary: true }),
  id: text('id', 20, { primary: true }),
  workspaceId: ws(),
  version: whole('version'),
  value: long('value'),
});

/** What a recipe made of a file, with its comparison. */
export interface RenditionRow {
  workspaceId: string;
  sourceSha256: string;
  faceIndex: number;
  /** `recipeKey`: steps, options and versions. */
  recipe: string;
  format: FontFormat;
  sha256: string;
  bytes: number;
  comparison: Comparison;
}
export const Rendition = entity<RenditionRow>('rendition', {
  workspaceId: uuid('workspace_id', { primary: true }),
  sourceSha256: { name: 'source_sha256', type: 'char', length: 64, primary: true },
  faceIndex: whole('face_index', { primary: true }),
  recipe: text('recipe', 400, { primary: true }),
  format: text('format', 5),
  sha256: { name: 'sha256', type: 'char', length: 64 },
  bytes: whole('bytes'),
  comparison: json<Comparison>('proof'),
});

export const facesRows = [FileEntity, BundleFile, FamilyEntity, FaceEntity, FaceFile, Fact, Rendition];

/** Columns of these rows that name bytes; bytes that none names are freed. */
export const facesBytes: readonly BytesColumn[] = [
  { table: 'font_file', column: 'sha256' },
  { table: 'rendition', column: 'sha256' },
];
