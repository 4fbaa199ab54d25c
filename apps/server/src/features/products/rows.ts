import type { FontFormat, Comparison } from '@orderly-glyph/core';
import type { BytesColumn } from '../../platform/blobs/refs.js';
import { entity, json, key, maybe, text, time, uuid, whole, ws } from '../../platform/database/columns.js';

/** Something made here. Its kind says from what and how; its releases say what was made. */
export interface ProductRow {
  id: string;
  workspaceId: string;
  kind: string;
  name: string;
  /** The license "made here" that its fonts stand under. */
  licenseId: string | null;
  createdBy: string;
  createdAt: Date;
  removedAt: Date | null;
  version: number;
}
export const ProductEntity = entity<ProductRow>('product', {
  id: key(),
  workspaceId: ws(),
  kind: text('kind', 20),
  name: text('name', 120),
  licenseId: uuid('license_id', maybe),
  createdBy: text('created_by'),
  createdAt: time('created_at'),
  removedAt: time('removed_at', maybe),
  version: whole('version'),
});

/** What a product is made from: bytes, kept even when the face they came with is removed. */
export interface ProductSourceRow {
  id: string;
  workspaceId: string;
  productId: string;
  position: number;
  name: string;
  sha256: string;
  faceIndex: number;
  /** The face of the library that it was taken from. */
  faceId: string | null;
}
export const ProductSourceEntity = entity<ProductSourceRow>('product_source', {
  id: key(),
  workspaceId: ws(),
  productId: uuid('product_id'),
  position: whole('position'),
  name: text('name', 1000),
  sha256: { name: 'sha256', type: 'char', length: 64 },
  faceIndex: whole('face_index'),
  faceId: uuid('face_id', maybe),
});

/** A numbered build whose files never change. */
export interface ProductReleaseRow {
  id: string;
  workspaceId: string;
  productId: string;
  number: number;
  recipe: object;
  notes: string;
  madeBy: string;
  madeAt: Date;
  comparison: Comparison;
}
export const ProductRelease = entity<ProductReleaseRow>('product_release', {
  id: key(),
  workspaceId: ws(),
  productId: uuid('product_id'),
  number: whole('number'),
  recipe: json<object>('recipe'),
  notes: { name: 'notes', type: 'text' },
  madeBy: text('made_by'),
  madeAt: time('made_at'),
  comparison: json<Comparison>('proof'),
});

export interface ReleaseFileRow {
  releaseId: string;
  name: string;
  workspaceId: string;
  sha256: string;
  format: FontFormat;
  bytes: number;
  /** The file of the library that it is. */
  fileId: string | null;
}
export const ReleaseFile = entity<ReleaseFileRow>('release_file', {
  releaseId: uuid('release_id', { primary: true }),
  name: text('name', 255, { primary: true }),
  workspaceId: ws(),
  sha256: { name: 'sha256', type: 'char', length: 64 },
  format: text('format', 5),
  bytes: whole('bytes'),
  fileId: uuid('file_id', maybe),
});

/** A code point given away; rows are only ever added. */
export interface CodePointRow {
  productId: string;
  codePoint: number;
  workspaceId: string;
  name: string;
  sinceRelease: number;
}
export const CodePoint = entity<CodePointRow>('code_point', {
  productId: uuid('product_id', { primary: true }),
  codePoint: whole('code_point', { primary: true }),
  workspaceId: ws(),
  name: text('name', 120),
  sinceRelease: whole('since_release'),
});

export const productsRows = [ProductEntity, ProductSourceEntity, ProductRelease, ReleaseFile, CodePoint];

/** Columns of these rows that name bytes; bytes that none names are freed. */
export const productsBytes: readonly BytesColumn[] = [
  { table: 'product_source', column: 'sha256' },
  { table: 'release_file', column: 'sha256' },
];
