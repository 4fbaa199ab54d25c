import type { BytesColumn } from '../../platform/blobs/refs.js';
import type { Answer, FontFormat, Recipe, Rules } from '@orderly-glyph/core';
import { entity, flag, json, key, maybe, text, time, uuid, whole, ws } from '../../platform/database/columns.js';

export interface PlaceRow {
  id: string;
  workspaceId: string;
  name: string;
  profileId: string;
  address: string;
  /** Sealed; see `Secrets`. */
  siteKey: string;
  createdAt: Date;
  version: number;
  /** Rules of its own; null for those of its kind. */
  rules: Rules | null;
  byHand: boolean;
  /** Name of the account that the key belongs to. */
  login: string;
  /** What the other side shows to prove that it is the one: a fingerprint of its host key. */
  hostKey: string;
  /** Address of a page on which the faces are to be seen. */
  page: string;
}

export const PlaceEntity = entity<PlaceRow>('place', {
  id: key(),
  workspaceId: ws(),
  name: text('name'),
  profileId: text('profile_id', 40),
  address: text('address', 300),
  siteKey: { name: 'site_key', type: 'text' },
  createdAt: time('created_at'),
  version: whole('version'),
  rules: json<Rules>('rules'),
  byHand: flag('by_hand'),
  login: text('login', 200),
  hostKey: text('host_key', 200),
  page: text('page', 300),
});

/** Every change of a place's rules. */
export interface PlaceRulesRow {
  id: number;
  workspaceId: string;
  placeId: string;
  rules: Rules | null;
  byName: string;
  at: Date;
}
export const PlaceRulesEntity = entity<PlaceRulesRow>('place_rules', {
  id: { name: 'id', type: 'bigint', primary: true, generated: 'increment' },
  workspaceId: ws(),
  placeId: uuid('place_id'),
  rules: json<Rules>('rules'),
  byName: text('by_name'),
  at: time('at'),
});

export interface DeliveryRow {
  id: string;
  workspaceId: string;
  placeId: string;
  /** Deliveries that were sent off together. */
  batchId: string | null;
  errand: 'put' | 'withdraw';
  /** What the faces are to be there. */
  role: string | null;
  jobId: string;
  createdBy: string;
  createdAt: Date;
}

export const DeliveryEntity = entity<DeliveryRow>('delivery', {
  id: key(),
  workspaceId: ws(),
  placeId: uuid('place_id'),
  batchId: uuid('batch_id', maybe),
  errand: text('errand', 10),
  role: text('role', 40, maybe),
  jobId: uuid('job_id'),
  createdBy: uuid('created_by'),
  createdAt: time('created_at'),
});

export interface DeliveryItemRow {
  id: string;
  workspaceId: string;
  deliveryId: string;
  position: number;
  faceId: string;
  /** `unknown`: sent, and nobody could say whether it is there; looking at the place settles it. */
  state: 'waiting' | 'installed' | 'refused' | 'unknown' | 'removed';
  message: string;
  bytes: number | null;
  sha256: string | null;
  /** What is done to the file first. */
  recipe: Recipe | null;
  /** Installs that come off: before the face goes there, or as the errand itself. */
  removes: string[] | null;
}

export const DeliveryItem = entity<DeliveryItemRow>('delivery_item', {
  id: key(),
  workspaceId: ws(),
  deliveryId: uuid('delivery_id'),
  position: whole('position'),
  faceId: uuid('face_id'),
  state: text('state', 10),
  message: text('message', 1000),
  bytes: whole('bytes', maybe),
  sha256: { name: 'sha256', type: 'char', length: 64, nullable: true },
  recipe: json<Recipe>('recipe'),
  removes: json<string[]>('removes'),
});

export interface StatementRow {
  id: string;
  workspaceId: string;
  /** Either of the two says for what it was made. */
  deliveryId: string | null;
  kitId: string | null;
  faceId: string;
  words: string;
  person: string;
  answer: Answer;
  reasons: string[];
  note: string;
  licenseId: string | null;
  licenseVersion: number | null;
  licenseName: string | null;
  /** An owner went ahead although the answer was no. */
  overridden: boolean;
  at: Date;
}

export const Statement = entity<StatementRow>('statement', {
  id: key(),
  workspaceId: ws(),
  deliveryId: uuid('delivery_id', maybe),
  kitId: uuid('kit_id', maybe),
  faceId: uuid('face_id'),
  words: { name: 'words', type: 'text' },
  person: text('person'),
  answer: text('answer', 3),
  reasons: json('reasons'),
  note: text('note', 1000),
  licenseId: uuid('license_id', maybe),
  licenseVersion: whole('license_version', maybe),
  licenseName: text('license_name', 255, maybe),
  overridden: flag('overridden'),
  at: time('at'),
});

/** A handover kit that somebody took, and the faces in it. */
export interface KitRow {
  id: string;
  workspaceId: string;
  faceIds: string[];
  createdBy: string;
  createdAt: Date;
}

export const KitEntity = entity<KitRow>('kit', {
  id: key(),
  workspaceId: ws(),
  faceIds: json<string[]>('face_ids'),
  createdBy: text('created_by'),
  createdAt: time('created_at'),
});

export interface InstallRow {
  id: string;
  workspaceId: string;
  placeId: string;
  faceId: string;
  deliveryId: string;
  sha256: string;
  format: FontFormat;
  bytes: number;
  version: string;
  remoteName: string;
  installedBy: string;
  installedAt: Date;
  removedAt: Date | null;
  role: string | null;
  /** The file of the library that it was made from. */
  sourceSha256: string | null;
  /** What was found when it was looked at last. */
  seen: Seen;
  seenAt: Date | null;
  seenNote: string;
  byHand: boolean;
  /** It comes off when its computer asks next. */
  leaving: boolean;
  /** Where it stands in the list that customers choose from, where somebody ordered that. */
  listPosition: number | null;
}
export type Seen = 'same' | 'other' | 'absent' | 'unknown';

export const InstallEntity = entity<InstallRow>('install', {
  id: key(),
  workspaceId: ws(),
  placeId: uuid('place_id'),
  faceId: uuid('face_id'),
  deliveryId: uuid('delivery_id'),
  sha256: { name: 'sha256', type: 'char', length: 64 },
  format: text('format', 5),
  bytes: whole('bytes'),
  version: text('version'),
  remoteName: text('remote_name'),
  installedBy: text('installed_by'),
  installedAt: time('installed_at'),
  removedAt: time('removed_at', maybe),
  role: text('role', 40, maybe),
  sourceSha256: { name: 'source_sha256', type: 'char', length: 64, nullable: true },
  seen: text('seen', 10),
  seenAt: time('seen_at', maybe),
  seenNote: text('seen_note', 500),
  byHand: flag('by_hand'),
  leaving: flag('leaving'),
  listPosition: whole('list_position', maybe),
});

/**
 * What happened to an install, written before and after each call to its place: `planned` before a file is sent, `put` once
 * the place took it, `verified` once it was read back the same, `assigned` once it has its role; `removing` before it is
 * taken off, `withdrawn` or `absent` after; `unknown` when no answer told.
 */
export type InstallEventKind = 'planned' | 'put' | 'verified' | 'assigned' | 'removing' | 'withdrawn' | 'absent' | 'unknown';
export interface InstallEventRow {
  id: number;
  workspaceId: string;
  installId: string;
  kind: InstallEventKind;
  at: Date;
  byName: string;
  /** What was to be there; repeated in each event, so that one alone tells all. */
  placeId: string;
  faceId: string;
  deliveryId: string;
  remoteName: string;
  sha256: string;
  format: FontFormat;
  bytes: number;
  version: string;
  /** The role given, for `assigned`; what was said, for `unknown` and `absent`. */
  note: string;
}
export const InstallEvent = entity<InstallEventRow>('install_event', {
  id: { name: 'id', type: 'bigint', primary: true, generated: 'increment' },
  workspaceId: ws(),
  installId: uuid('install_id'),
  kind: text('kind', 10),
  at: time('at'),
  byName: text('by_name'),
  placeId: uuid('place_id'),
  faceId: uuid('face_id'),
  deliveryId: uuid('delivery_id'),
  remoteName: text('remote_name'),
  sha256: { name: 'sha256', type: 'char', length: 64 },
  format: text('format', 5),
  bytes: whole('bytes'),
  version: text('version'),
  note: text('note', 500),
});

/** A computer that fetches its faces itself. */
export interface ComputerRow {
  placeId: string;
  workspaceId: string;
  codeHash: string | null;
  codeEndsAt: Date | null;
  tokenHash: string | null;
  system: string;
  joinedAt: Date | null;
  syncedAt: Date | null;
}
export const ComputerEntity = entity<ComputerRow>('computer', {
  placeId: uuid('place_id', { primary: true }),
  workspaceId: ws(),
  codeHash: { name: 'code_hash', type: 'char', length: 64, nullable: true },
  codeEndsAt: time('code_ends_at', maybe),
  tokenHash: { name: 'token_hash', type: 'char', length: 64, nullable: true },
  system: text('system', 120),
  joinedAt: time('joined_at', maybe),
  syncedAt: time('synced_at', maybe),
});

export const placesRows = [
  ComputerEntity,
  PlaceEntity,
  PlaceRulesEntity,
  DeliveryEntity,
  DeliveryItem,
  Statement,
  KitEntity,
  InstallEntity,
  InstallEvent,
];

/** Columns of these rows that name bytes; bytes that none names are freed. */
export const placesBytes: readonly BytesColumn[] = [
  { table: 'install', column: 'sha256' },
  { table: 'delivery_item', column: 'sha256' },
  { table: 'install_event', column: 'sha256' },
];
