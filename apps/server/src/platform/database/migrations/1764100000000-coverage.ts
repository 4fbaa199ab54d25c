import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a face can write, beside its facts; empty until computed, which raises facts_version. */
export class Coverage1764100000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      "ALTER TABLE face_file ADD COLUMN languages TEXT NOT NULL DEFAULT '', ADD COLUMN coverage MEDIUMTEXT NULL, ADD KEY (facts_version)",
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE face_file DROP KEY facts_version, DROP COLUMN languages, DROP COLUMN coverage');
  }
}
