import type { MigrationInterface, QueryRunner } from 'typeorm';

/** By what rows are looked up that had been found by reading the whole of their table. */
const KEYS: readonly (readonly [table: string, name: string, columns: string])[] = [
  ['upload', 'left', 'state, touched_at'],
  ['session', 'expired', 'expires_at'],
  ['known_browser', 'unseen', 'seen_at'],
  ['sign_in_tries', 'past', 'last_at'],
  ['install', 'unlooked', 'removed_at, seen_at'],
  ['workspace', 'samples', 'demo'],
  ['install', 'of_content', 'workspace_id, sha256'],
];

/** Keys for what is asked of tables that grow with use. */
export class Plans1765700000000 implements MigrationInterface {
  name = 'Plans1765700000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const [table, name, columns] of KEYS) await runner.query(`ALTER TABLE ${table} ADD KEY \`${name}\` (${columns})`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const [table, name] of KEYS) await runner.query(`ALTER TABLE ${table} DROP KEY \`${name}\``);
  }
}
