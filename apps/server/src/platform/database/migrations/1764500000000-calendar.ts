import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The secret of the address under which calendar programs read when rights end. */
export class Calendar1764500000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE workspace ADD COLUMN calendar_secret VARCHAR(64) COLLATE utf8mb4_bin NULL UNIQUE');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE workspace DROP COLUMN calendar_secret');
  }
}
