import { EntitySchema, type EntitySchemaColumnOptions } from 'typeorm';

export type Columns<T> = { [K in keyof T]-?: EntitySchemaColumnOptions };
export const uuid = (name: string, extra: Partial<EntitySchemaColumnOptions> = {}): EntitySchemaColumnOptions => ({
  name,
  type: 'char',
  length: 36,
  ...extra,
});
export const key = (): EntitySchemaColumnOptions => uuid('id', { primary: true });
export const text = (name: string, length = 255, extra: Partial<EntitySchemaColumnOptions> = {}): EntitySchemaColumnOptions => ({
  name,
  type: 'varchar',
  length,
  ...extra,
});
export const long = (name: string, extra: Partial<EntitySchemaColumnOptions> = {}): EntitySchemaColumnOptions => ({
  name,
  type: 'mediumtext',
  ...extra,
});
export const whole = (name: string, extra: Partial<EntitySchemaColumnOptions> = {}): EntitySchemaColumnOptions => ({
  name,
  type: 'int',
  ...extra,
});
export const time = (name: string, extra: Partial<EntitySchemaColumnOptions> = {}): EntitySchemaColumnOptions => ({
  name,
  type: 'datetime',
  precision: 3,
  ...extra,
});
export const flag = (name: string): EntitySchemaColumnOptions => ({ name, type: 'boolean' });
export const json = <T>(name: string): EntitySchemaColumnOptions => ({
  name,
  type: 'mediumtext',
  nullable: true,
  transformer: {
    to: (value: T | null) => (value === null || value === undefined ? null : JSON.stringify(value)),
    from: (value: string | null) => (value === null ? null : (JSON.parse(value) as T)),
  },
});
export const maybe = { nullable: true };
export const ws = (): EntitySchemaColumnOptions => uuid('workspace_id');
export const entity = <T extends object>(name: string, columns: Columns<T>): EntitySchema<T> =>
  new EntitySchema<T>({ name, tableName: name, columns });
