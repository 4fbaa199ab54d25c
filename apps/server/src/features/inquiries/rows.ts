import type { Use } from '@orderly-glyph/core';
import type { Candidate, Inquiry, PictureReading, Sureness } from '@orderly-glyph/schema';
import { entity, flag, json, key, maybe, text, time, whole, ws } from '../../platform/database/columns.js';

/** The ink of a line that was read: a byte a px, 160 for full ink, Base64. */
export interface KeptInk {
  width: number;
  height: number;
  values: string;
}

export interface InquiryRow {
  id: string;
  workspaceId: string;
  title: string;
  customer: string;
  note: string;
  price: string | null;
  currency: string | null;
  use: Use;
  open: boolean;
  reading: PictureReading;
  sureness: Sureness | null;
  candidates: Candidate[];
  kept: KeptInk | null;
  width: number;
  height: number;
  news: Inquiry['news'];
  /** Faces that came in later were not looked at. */
  searchedAt: Date;
  version: number;
  createdBy: string;
  createdAt: Date;
  changedAt: Date;
  removedAt: Date | null;
}
/** Without its picture, which only its own address reads. */
export const InquiryEntity = entity<InquiryRow>('inquiry', {
  id: key(),
  workspaceId: ws(),
  title: text('title', 120),
  customer: text('customer', 200),
  note: { name: 'note', type: 'text' },
  price: { name: 'price', type: 'decimal', precision: 9, scale: 2, nullable: true },
  currency: text('currency', 3, maybe),
  use: text('purpose', 40),
  open: flag('is_open'),
  reading: json<PictureReading>('reading'),
  sureness: text('sureness', 20, maybe),
  candidates: json<Candidate[]>('candidates'),
  kept: json<KeptInk>('kept'),
  width: whole('width'),
  height: whole('height'),
  news: json<Inquiry['news']>('news'),
  searchedAt: time('searched_at'),
  version: whole('version'),
  createdBy: text('created_by'),
  createdAt: time('created_at'),
  changedAt: time('changed_at'),
  removedAt: time('removed_at', maybe),
});
export const inquiriesRows = [InquiryEntity];
