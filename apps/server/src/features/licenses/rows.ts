import type { BytesColumn } from '../../platform/blobs/refs.js';
import type { CompanionKind } from '@orderly-glyph/node';
import type { Answer, LicenseKind, Limit, Recognition, TextFindings, Use } from '@orderly-glyph/core';
import type { LicenseFields } from '@orderly-glyph/schema';
import { entity, flag, json, key, long, maybe, text, time, uuid, whole, ws } from '../../platform/database/columns.js';

export type { CompanionKind };

export interface CompanionRow {
  id: string;
  workspaceId: string;
  /** Null for evidence that somebody added to a license. */
  bundleId: string | null;
  sha256: string;
  name: string;
  kind: CompanionKind;
  bytes: number;
  content: string | null;
  /** The known license whose text it holds, and further ones. */
  recognition: (Recognition & { others?: Recognition[] }) | null;
  /** Why its text could not be read. */
  unread: string | null;
  /** What else it says of rights; null for what is no text, and for texts read before this was kept. */
  findings: TextFindings | null;
}

export const CompanionEntity = entity<CompanionRow>('companion', {
  id: key(),
  workspaceId: ws(),
  bundleId: uuid('bundle_id', maybe),
  sha256: { name: 'sha256', type: 'char', length: 64 },
  name: text('name', 1000),
  kind: text('kind', 10),
  bytes: whole('bytes'),
  content: long('content', maybe),
  recognition: json<Recognition>('recognition'),
  unread: text('unread', 400, maybe),
  findings: json<TextFindings>('findings'),
});

/** A text with terms and a face it may count for; `reason` says why it does not. */
export interface CompanionFaceRow {
  companionId: string;
  faceId: string;
  workspaceId: string;
  reason: string | null;
}

export const CompanionFace = entity<CompanionFaceRow>('companion_face', {
  companionId: uuid('companion_id', { primary: true }),
  faceId: uuid('face_id', { primary: true }),
  workspaceId: ws(),
  reason: text('reason', 600, maybe),
});

export interface LicenseRow {
  id: string;
  workspaceId: string;
  name: string;
  kind: LicenseKind;
  spdxId: string | null;
  grantor: string;
  uses: Partial<Record<Use, Answer>>;
  startsOn: string | null;
  endsOn: string | null;
  note: string;
  quotes: Partial<Record<Use, string>> | null;
  limits: Partial<Record<Limit, number>> | null;
  counters: Partial<Record<Limit, number>> | null;
  duties: string[] | null;
  noticeOn: string | null;
  /** In units of the currency. */
  price: number | null;
  currency: string | null;
  boughtOn: string | null;
  orderNumber: string;
  billedTo: string;
  source: string;
  confirmed: boolean;
  confirmedBy: string | null;
  confirmedAt: Date | null;
  reservedNames: string[];
  version: number;
  removedAt: Date | null;
  createdAt: Date;
}

export const LicenseEntity = entity<LicenseRow>('license', {
  id: key(),
  workspaceId: ws(),
  name: text('name'),
  kind: text('kind', 14),
  spdxId: text('spdx_id', 60, maybe),
  grantor: text('grantor'),
  uses: json('uses'),
  startsOn: { name: 'starts_on', type: 'date', nullable: true },
  endsOn: { name: 'ends_on', type: 'date', nullable: true },
  note: long('note'),
  quotes: json('quotes'),
  limits: json('limits_by_use'),
  counters: json('counters'),
  duties: json('duties'),
  noticeOn: { name: 'notice_on', type: 'date', nullable: true },
  price: {
    name: 'price',
    type: 'decimal',
    precision: 12,
    scale: 2,
    nullable: true,
    transformer: { to: (v: number | null) => v, from: (v: string | null) => (v === null ? null : Number(v)) },
  },
  currency: { name: 'currency', type: 'char', length: 3, nullable: true },
  boughtOn: { name: 'bought_on', type: 'date', nullable: true },
  orderNumber: text('order_number', 100),
  billedTo: text('billed_to', 200),
  source: text('source', 500),
  confirmed: flag('confirmed'),
  confirmedBy: text('confirmed_by', 255, maybe),
  confirmedAt: time('confirmed_at', maybe),
  reservedNames: json('reserved_names'),
  version: whole('version'),
  removedAt: time('removed_at', maybe),
  createdAt: time('created_at'),
});

export interface LicenseVersionRow {
  licenseId: string;
  version: number;
  workspaceId: string;
  fields: object;
  byName: string;
  at: Date;
  /** What was done where it was no change of its fields. */
  act: 'removed' | 'restored' | null;
}

export const LicenseVersion = entity<LicenseVersionRow>('license_version', {
  licenseId: uuid('license_id', { primary: true }),
  version: whole('version', { primary: true }),
  workspaceId: ws(),
  fields: json('fields'),
  byName: text('by_name'),
  at: time('at'),
  act: text('act', 10, maybe),
});

export interface LicenseFaceRow {
  licenseId: string;
  faceId: string;
  workspaceId: string;
}

export const LicenseFace = entity<LicenseFaceRow>('license_face', {
  licenseId: uuid('license_id', { primary: true }),
  faceId: uuid('face_id', { primary: true }),
  workspaceId: ws(),
});

export interface LicenseEvidenceRow {
  licenseId: string;
  companionId: string;
  workspaceId: string;
}

export const LicenseEvidence = entity<LicenseEvidenceRow>('license_evidence', {
  licenseId: uuid('license_id', { primary: true }),
  companionId: uuid('companion_id', { primary: true }),
  workspaceId: ws(),
});

export interface StartingPointRow {
  id: string;
  workspaceId: string;
  name: string;
  fields: Pick<LicenseFields, 'kind' | 'uses' | 'limits' | 'duties'> & { hint: string };
}

export const StartingPointEntity = entity<StartingPointRow>('starting_point', {
  id: key(),
  workspaceId: ws(),
  name: text('name', 80),
  fields: json('fields'),
});

export const licensesRows = [
  CompanionEntity,
  CompanionFace,
  LicenseEntity,
  LicenseVersion,
  LicenseFace,
  LicenseEvidence,
  StartingPointEntity,
];

/** Columns of these rows that name bytes; bytes that none names are freed. */
export const licensesBytes: readonly BytesColumn[] = [{ table: 'companion', column: 'sha256' }];
