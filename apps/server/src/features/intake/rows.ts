import { entity, key, maybe, text, time, uuid, whole, ws } from '../../platform/database/columns.js';

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

export const intakeRows = [IntakeEntity, Upload, Bundle, Item];
