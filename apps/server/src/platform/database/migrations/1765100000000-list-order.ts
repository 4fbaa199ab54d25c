import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The order of a list that customers choose from. */
export class ListOrder1765100000000 implements MigrationInterface {
  name = 'ListOrder1765100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE install ADD COLUMN list_position INT NULL');
    for (const table of ['place', 'place_rules'])
      for (const role of ['offered', 'withheld'])
        await runner.query(
          `UPDATE ${table} SET rules = REPLACE(rules, '"id":"${role}",', '"id":"${role}","many":true,') WHERE rules IS NOT NULL`,
        );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE install DROP COLUMN list_position');
  }
}
