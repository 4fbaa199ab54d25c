import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The few facts a line of the library needs, apart from the rest, so that thousands of lines are read quickly. */
export class Line1764200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE face_file ADD COLUMN line MEDIUMTEXT NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE face_file DROP COLUMN line');
  }
}
