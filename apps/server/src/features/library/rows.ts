import { entity, json, key, long, maybe, text, time, whole, ws } from '../../platform/database/columns.js';

export interface ReadyTextRow {
  id: string;
  workspaceId: string;
  position: number;
  language: string;
  label: string;
  text: string;
}

export const ReadyTextEntity = entity<ReadyTextRow>('proof_text', {
  id: key(),
  workspaceId: ws(),
  position: whole('position'),
  language: text('language', 35),
  label: text('label', 60),
  text: text('text', 400),
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

export const libraryRows = [ReadyTextEntity, CollectionEntity, KeptSearch, KeptText, LibraryChange];
