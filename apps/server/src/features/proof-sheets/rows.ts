import type { ProofPlan } from '@orderly-glyph/schema';
import { entity, json, key, maybe, text, time, ws } from '../../platform/database/columns.js';

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

export const proofSheetsRows = [ProofSheetEntity];
