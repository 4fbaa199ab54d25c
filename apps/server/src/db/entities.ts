import type {
  Answer,
  Coverage,
  Embedding,
  FaceFacts,
  FontFormat,
  Kind,
  LicenseKind,
  Limit,
  Naming,
  Proof,
  Recognition,
  ShapeNumbers,
  TextFindings,
  Traits,
  TargetFormat,
  Use,
} from '@orderly-glyph/core';
import type { Color, KeepRule, LicenseFields, ProofPlan, Role } from '@orderly-glyph/schema';
import { EntitySchema, type EntitySchemaColumnOptions } from 'typeorm';

type Columns<T> = { [K in keyof T]-?: EntitySchemaColumnOptions };

const uuid = (name: string, extra: Partial<EntitySchemaColumnOptions> = {}): EntitySchemaColumnOptions => ({
  name,
  type: 'char',
  length: 36,
  ...extra,
});
const key = (): EntitySchemaColumnOptions => uuid('id', { primary: true });
const text = (name: string, length = 255, extra: Partial<EntitySchemaColumnOptions> = {}): EntitySchemaColumnOptions => ({
  name,
  type: 'varchar',
  length,
  ...extra,
});
const long = (name: string, extra: Partial<EntitySchemaColumnOptions> = {}): EntitySchemaColumnOptions => ({
  name,
  type: 'mediumtext',
  ...extra,
});
const whole = (name: string, extra: Partial<EntitySchemaColumnOptions> = {}): EntitySchemaColumnOptions => ({
  name,
  type: 'int',
  ...extra,
});
const time = (name: string, extra: Partial<EntitySchemaColumnOptions> = {}): EntitySchemaColumnOptions => ({
  name,
  type: 'datetime',
  precision: 3,
  ...extra,
});
const flag = (name: string): EntitySchemaColumnOptions => ({ name, type: 'boolean' });
const json = <T>(name: string): EntitySchemaColumnOptions => ({
  name,
  type: 'mediumtext',
  nullable: true,
  transformer: {
    to: (value: T | null) => (value === null || value === undefined ? null : JSON.stringify(value)),
    from: (value: string | null) => (value === null ? null : (JSON.parse(value) as T)),
  },
});
const maybe = { nullable: true };
const ws = (): EntitySchemaColumnOptions => uuid('workspace_id');
const entity = <T extends object>(name: string, columns: Columns<T>): EntitySchema<T> =>
  new EntitySchema<T>({ name, tableName: name, columns });

export interface WorkspaceRow {
  id: string;
  name: string;
  demo: number;
  createdAt: Date;
  keepRule: KeepRule | null;
  palette: Color[] | null;
  calendarSecret: string | null;
  /** IANA name; terms begin and end by its days. */
  timeZone: string;
  /** Bytes it may keep; null for the server's own limit. */
  quotaBytes: number | null;
}
/** demo: 0 an ordinary workspace, 1 the sample business, 2 the sample business while it is being loaded. */
export const Workspace = entity<WorkspaceRow>('workspace', {
  id: key(),
  name: text('name'),
  demo: whole('demo'),
  createdAt: time('created_at'),
  keepRule: json<KeepRule>('keep_rule'),
  palette: json<Color[]>('palette'),
  calendarSecret: text('calendar_secret', 64, maybe),
  timeZone: text('time_zone', 60),
  quotaBytes: {
    name: 'quota_bytes',
    type: 'bigint',
    nullable: true,
    transformer: { to: (v: number | null) => v, from: (v: string | null) => (v === null ? null : Number(v)) },
  },
});

export interface AccountRow {
  id: string;
  email: string;
  name: string;
  passwordHash: string;
  createdAt: Date;
  /** The one account that visitors of the sample business share. */
  demo: boolean;
}
export const Account = entity<AccountRow>('account', {
  id: key(),
  email: text('email', 190),
  name: text('name'),
  passwordHash: text('password_hash'),
  createdAt: time('created_at'),
  demo: flag('demo'),
});

export interface MemberRow {
  id: string;
  workspaceId: string;
  accountId: string;
  role: Role;
  version: number;
}
export const Member = entity<MemberRow>('member', {
  id: key(),
  workspaceId: ws(),
  accountId: uuid('account_id'),
  role: text('role', 10),
  version: whole('version'),
});

export interface SessionRow {
  tokenHash: string;
  accountId: string;
  workspaceId: string | null;
  createdAt: Date;
  expiresAt: Date;
  /** How its owner names it; the token itself is known to nobody else. */
  id: string;
  agent: string;
  seenAt: Date;
}
export const Session = entity<SessionRow>('session', {
  tokenHash: { name: 'token_hash', type: 'char', length: 64, primary: true },
  accountId: uuid('account_id'),
  workspaceId: uuid('workspace_id', maybe),
  createdAt: time('created_at'),
  expiresAt: time('expires_at'),
  id: uuid('id'),
  agent: text('agent', 200),
  seenAt: time('seen_at'),
});

export interface InvitationRow {
  id: string;
  workspaceId: string;
  tokenHash: string;
  role: Role;
  /** For whom, in the words of whoever made it. */
  note: string;
  createdBy: string;
  createdAt: Date;
  expiresAt: Date;
}
export const Invitation = entity<InvitationRow>('invitation', {
  id: key(),
  workspaceId: ws(),
  tokenHash: { name: 'token_hash', type: 'char', length: 64 },
  role: text('role', 10),
  note: text('note', 120),
  createdBy: text('created_by'),
  createdAt: time('created_at'),
  expiresAt: time('expires_at'),
});

export interface PasswordResetRow {
  tokenHash: string;
  accountId: string;
  createdBy: string;
  createdAt: Date;
  expiresAt: Date;
}
export const PasswordReset = entity<PasswordResetRow>('password_reset', {
  tokenHash: { name: 'token_hash', type: 'char', length: 64, primary: true },
  accountId: uuid('account_id'),
  createdBy: text('created_by'),
  createdAt: time('created_at'),
  expiresAt: time('expires_at'),
});

export interface ProofTextRow {
  id: string;
  workspaceId: string;
  position: number;
  language: string;
  label: string;
  text: string;
}
export const ProofTextEntity = entity<ProofTextRow>('proof_text', {
  id: key(),
  workspaceId: ws(),
  position: whole('position'),
  language: text('language', 35),
  label: text('label', 60),
  text: text('text', 400),
});

export interface IntakeRow {
  id: string;
  workspaceId: string;
  label: string;
  state: 'waiting' | 'queued' | 'running' | 'done' | 'failed' | 'cancelled';
  createdBy: string;
  createdAt: Date;
  jobId: string | null;
}
export const IntakeEntity = entity<IntakeRow>('intake', {
  id: key(),
  workspaceId: ws(),
  label: text('label'),
  state: text('state', 12),
  createdBy: uuid('created_by'),
  createdAt: time('created_at'),
  jobId: uuid('job_id', maybe),
});

export interface UploadRow {
  id: string;
  workspaceId: string;
  intakeId: string;
  name: string;
  bytes: number;
  state: 'receiving' | 'received' | 'expanded';
  touchedAt: Date;
}
export const Upload = entity<UploadRow>('upload', {
  id: key(),
  workspaceId: ws(),
  intakeId: uuid('intake_id'),
  name: text('name', 1000),
  bytes: whole('bytes'),
  state: text('state', 12),
  touchedAt: time('touched_at'),
});

export interface BundleRow {
  id: string;
  workspaceId: string;
  intakeId: string;
  uploadId: string | null;
  name: string;
}
export const Bundle = entity<BundleRow>('bundle', {
  id: key(),
  workspaceId: ws(),
  intakeId: uuid('intake_id'),
  uploadId: uuid('upload_id', maybe),
  name: text('name', 1000),
});

export interface ItemRow {
  id: string;
  workspaceId: string;
  intakeId: string;
  seq: number;
  uploadId: string;
  bundleId: string;
  path: string;
  /** Where in the upload: null for the upload itself, else the index of the ZIP entry, and of the entry in a nested ZIP. */
  entry: number | null;
  nestedEntry: number | null;
  bytes: number;
  state: 'waiting' | 'added' | 'already-here' | 'companion' | 'set-aside' | 'refused';
  reason: string;
  faceId: string | null;
  fileId: string | null;
  companionId: string | null;
  /** How often reading it had to be given up. */
  tries: number;
}
export const Item = entity<ItemRow>('item', {
  id: key(),
  workspaceId: ws(),
  intakeId: uuid('intake_id'),
  seq: whole('seq'),
  uploadId: uuid('upload_id'),
  bundleId: uuid('bundle_id'),
  path: text('path', 1000),
  entry: whole('entry', maybe),
  nestedEntry: whole('nested_entry', maybe),
  bytes: whole('bytes'),
  state: text('state', 14),
  reason: text('reason', 1000),
  faceId: uuid('face_id', maybe),
  fileId: uuid('file_id', maybe),
  companionId: uuid('companion_id', maybe),
  tries: whole('tries'),
});

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

/** What a line of the library needs of a face. */
export interface LineFacts {
  /**
   * What it writes: code points as "first-last" runs in base 36, joined by commas; then, after a bar, letters with marks that
   * have no character of their own, joined by spaces.
   */
  runs: string;
  version: string | null;
  ascender: number;
  descender: number;
  unitsPerEm: number;
  variable: boolean;
  blocked: string | null;
  embedding: Embedding;
  features: string[];
  scripts: string[];
  /** Languages it nearly writes. */
  near: string[];
  axes: string[];
  /** From and to, of the axes wght and wdth. */
  ranges: { wght?: [number, number]; wdth?: [number, number] };
  color: boolean;
  kind: Kind | null;
  confidence: number;
}

/** The form of a face as computed from its outlines. */
export interface ShapeFacts {
  value: Kind;
  confidence: number;
  decorative: number;
  numbers: ShapeNumbers;
}

/** A face as one file holds it; facts belong here, since two files of a face may differ. */
export interface FaceFileRow {
  id: string;
  workspaceId: string;
  faceId: string;
  fileId: string;
  faceIndex: number;
  codePoints: number;
  facts: FaceFacts;
  factsVersion: number;
  /** Tags of the languages it writes in full, with a space before and after each. */
  languages: string;
  coverage: Coverage | null;
  line: LineFacts | null;
  shape: ShapeFacts | null;
  /** Where it stands among all faces, 48 numbers. */
  likeness: number[] | null;
  printAll: string | null;
  printBasic: string | null;
  traits: Traits | null;
  naming: Naming | null;
  removedAt: Date | null;
}
export const FaceFile = entity<FaceFileRow>('face_file', {
  id: key(),
  workspaceId: ws(),
  faceId: uuid('face_id'),
  fileId: uuid('file_id'),
  faceIndex: whole('face_index'),
  codePoints: whole('code_points'),
  facts: json<FaceFacts>('facts'),
  factsVersion: whole('facts_version'),
  languages: { name: 'languages', type: 'text' },
  coverage: json<Coverage>('coverage'),
  line: json<LineFacts>('line'),
  shape: json<ShapeFacts>('shape'),
  likeness: json<number[]>('likeness'),
  printAll: text('print_all', 16, maybe),
  printBasic: text('print_basic', 16, maybe),
  traits: json<Traits>('traits'),
  naming: json<Naming>('naming'),
  removedAt: time('removed_at', maybe),
});

export type CompanionKind = 'terms' | 'receipt' | 'readme' | 'picture' | 'document' | 'other';
export interface CompanionRow {
  id: string;
  workspaceId: string;
  bundleId: string;
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
  bundleId: uuid('bundle_id'),
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

export interface PlaceRow {
  id: string;
  workspaceId: string;
  name: string;
  profileId: string;
  address: string;
  siteKey: string;
  createdAt: Date;
  version: number;
}
export const PlaceEntity = entity<PlaceRow>('place', {
  id: key(),
  workspaceId: ws(),
  name: text('name'),
  profileId: text('profile_id', 40),
  address: text('address', 300),
  siteKey: text('site_key', 200),
  createdAt: time('created_at'),
  version: whole('version'),
});

export interface RenditionRow {
  workspaceId: string;
  sourceSha256: string;
  faceIndex: number;
  format: TargetFormat;
  sha256: string;
  bytes: number;
  proof: Proof;
}
export const Rendition = entity<RenditionRow>('rendition', {
  workspaceId: uuid('workspace_id', { primary: true }),
  sourceSha256: { name: 'source_sha256', type: 'char', length: 64, primary: true },
  faceIndex: whole('face_index', { primary: true }),
  format: text('format', 5, { primary: true }),
  sha256: { name: 'sha256', type: 'char', length: 64 },
  bytes: whole('bytes'),
  proof: json<Proof>('proof'),
});

export interface DeliveryRow {
  id: string;
  workspaceId: string;
  placeId: string;
  convertTo: TargetFormat | null;
  headings: boolean;
  jobId: string;
  createdBy: string;
  createdAt: Date;
}
export const DeliveryEntity = entity<DeliveryRow>('delivery', {
  id: key(),
  workspaceId: ws(),
  placeId: uuid('place_id'),
  convertTo: text('convert_to', 5, maybe),
  headings: flag('headings'),
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
  state: 'waiting' | 'installed' | 'refused';
  message: string;
  bytes: number | null;
  sha256: string | null;
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

export interface InstallRow {
  id: string;
  workspaceId: string;
  placeId: string;
  faceId: string;
  deliveryId: string;
  sha256: string;
  format: TargetFormat;
  bytes: number;
  version: string;
  remoteName: string;
  installedBy: string;
  installedAt: Date;
  removedAt: Date | null;
}
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
});

export interface JobRow {
  id: string;
  workspaceId: string;
  kind: 'intake' | 'delivery' | 'facts';
  subjectId: string;
  state: 'queued' | 'running' | 'done' | 'failed' | 'cancelled';
  done: number;
  total: number;
  message: string;
  claimedBy: string | null;
  heartbeatAt: Date | null;
  cancelRequested: boolean;
  attempts: number;
  createdAt: Date;
  finishedAt: Date | null;
}
export const JobEntity = entity<JobRow>('job', {
  id: key(),
  workspaceId: ws(),
  kind: text('kind', 10),
  subjectId: uuid('subject_id'),
  state: text('state', 10),
  done: whole('done'),
  total: whole('total'),
  message: text('message', 500),
  claimedBy: uuid('claimed_by', maybe),
  heartbeatAt: time('heartbeat_at', maybe),
  cancelRequested: flag('cancel_requested'),
  attempts: whole('attempts'),
  createdAt: time('created_at'),
  finishedAt: time('finished_at', maybe),
});

export interface CollectionRow {
  id: string;
  workspaceId: string;
  name: string;
  familyIds: string[] | null;
  createdAt: Date;
  removedAt: Date | null;
}
export const CollectionEntity = entity<CollectionRow>('collection', {
  id: key(),
  workspaceId: ws(),
  name: text('name', 120),
  familyIds: json<string[]>('family_ids'),
  createdAt: time('created_at'),
  removedAt: time('removed_at', maybe),
});

export interface KeptSearchRow {
  id: string;
  workspaceId: string;
  name: string;
  query: string;
  createdAt: Date;
}
export const KeptSearch = entity<KeptSearchRow>('kept_search', {
  id: key(),
  workspaceId: ws(),
  name: text('name', 120),
  query: text('query', 2000),
  createdAt: time('created_at'),
});

export interface KeptTextRow {
  id: string;
  workspaceId: string;
  name: string;
  text: string;
  createdAt: Date;
}
export const KeptText = entity<KeptTextRow>('kept_text', {
  id: key(),
  workspaceId: ws(),
  name: text('name', 120),
  text: long('text'),
  createdAt: time('created_at'),
});

/** One row as it was and as it became; null where it was not there. */
export interface ChangeStep {
  table: 'family' | 'face' | 'face_file' | 'collection' | 'workspace';
  id: string;
  before: Record<string, unknown> | null;
  after: Record<string, unknown>;
}
export interface LibraryChangeRow {
  id: string;
  workspaceId: string;
  byName: string;
  at: Date;
  summary: string;
  steps: ChangeStep[];
  undoneAt: Date | null;
}
export const LibraryChange = entity<LibraryChangeRow>('library_change', {
  id: key(),
  workspaceId: ws(),
  byName: text('by_name'),
  at: time('at'),
  summary: text('summary', 500),
  steps: json<ChangeStep[]>('steps'),
  undoneAt: time('undone_at', maybe),
});

export interface ProofSheetRow {
  id: string;
  workspaceId: string;
  secret: string;
  title: string;
  plan: ProofPlan;
  endsOn: string;
  createdBy: string;
  createdAt: Date;
  removedAt: Date | null;
}
export const ProofSheetEntity = entity<ProofSheetRow>('proof_sheet', {
  id: key(),
  workspaceId: ws(),
  secret: text('secret', 64),
  title: text('title', 160),
  plan: json<ProofPlan>('plan'),
  endsOn: { name: 'ends_on', type: 'date' },
  createdBy: text('created_by'),
  createdAt: time('created_at'),
  removedAt: time('removed_at', maybe),
});

export const ENTITIES = [
  CompanionFace,
  Invitation,
  PasswordReset,
  KitEntity,
  StartingPointEntity,
  CollectionEntity,
  KeptSearch,
  KeptText,
  LibraryChange,
  ProofSheetEntity,
  Workspace,
  Account,
  Member,
  Session,
  ProofTextEntity,
  IntakeEntity,
  Upload,
  Bundle,
  Item,
  FileEntity,
  BundleFile,
  FamilyEntity,
  FaceEntity,
  FaceFile,
  CompanionEntity,
  LicenseEntity,
  LicenseVersion,
  LicenseFace,
  LicenseEvidence,
  PlaceEntity,
  Rendition,
  DeliveryEntity,
  DeliveryItem,
  Statement,
  InstallEntity,
  JobEntity,
];
