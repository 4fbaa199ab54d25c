import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The full record of a license: sentences, limits and counters by use, what it cost, for whom, and when to be warned. */
export class Rights1764400000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `ALTER TABLE license ADD COLUMN quotes MEDIUMTEXT NULL, ADD COLUMN limits_by_use TEXT NULL, ADD COLUMN counters TEXT NULL, ADD COLUMN notice_on DATE NULL, ADD COLUMN price DECIMAL(12,2) NULL, ADD COLUMN currency CHAR(3) NULL, ADD COLUMN bought_on DATE NULL, ADD COLUMN order_number VARCHAR(100) NOT NULL DEFAULT '', ADD COLUMN billed_to VARCHAR(200) NOT NULL DEFAULT '', ADD COLUMN source VARCHAR(500) NOT NULL DEFAULT ''`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE license DROP COLUMN quotes, DROP COLUMN limits_by_use, DROP COLUMN counters, DROP COLUMN notice_on, DROP COLUMN price, DROP COLUMN currency, DROP COLUMN bought_on, DROP COLUMN order_number, DROP COLUMN billed_to, DROP COLUMN source',
    );
  }
}
