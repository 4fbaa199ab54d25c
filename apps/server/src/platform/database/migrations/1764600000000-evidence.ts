import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Why a companion could not be read, duties of a license, overrides of a No, and the workspace's starting points. */
export class Evidence1764600000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE companion ADD COLUMN unread VARCHAR(400) NULL');
    await runner.query('ALTER TABLE license ADD COLUMN duties TEXT NULL');
    await runner.query('ALTER TABLE statement ADD COLUMN overridden TINYINT(1) NOT NULL DEFAULT 0');
    await runner.query(
      `CREATE TABLE starting_point (id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY, workspace_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, name VARCHAR(80) NOT NULL, fields TEXT NOT NULL, UNIQUE (workspace_id, name), FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE starting_point');
    await runner.query('ALTER TABLE statement DROP COLUMN overridden');
    await runner.query('ALTER TABLE license DROP COLUMN duties');
    await runner.query('ALTER TABLE companion DROP COLUMN unread');
  }
}
