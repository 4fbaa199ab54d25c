import type { HouseStyle } from '@orderly-glyph/schema';
import { entity, json, key, text, time, whole, ws } from '../../platform/database/columns.js';

export interface HouseStyleRow {
  id: string;
  workspaceId: string;
  name: string;
  roles: HouseStyle['roles'];
  version: number;
  changedBy: string;
  changedAt: Date;
}

export const HouseStyleEntity = entity<HouseStyleRow>('house_style', {
  id: key(),
  workspaceId: ws(),
  name: text('name', 120),
  roles: json<HouseStyle['roles']>('roles'),
  version: whole('version'),
  changedBy: text('changed_by'),
  changedAt: time('changed_at'),
});

export const houseStylesRows = [HouseStyleEntity];
