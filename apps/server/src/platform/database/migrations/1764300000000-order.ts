import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Order in the library: computed shapes and prints, doubles, collections, labels, kept searches and texts, and a record of changes. */
export class Order1764300000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `ALTER TABLE face_file ADD COLUMN shape TEXT NULL, ADD COLUMN likeness TEXT NULL, ADD COLUMN print_all CHAR(16) NULL, ADD COLUMN print_basic CHAR(16) NULL, ADD COLUMN naming MEDIUMTEXT NULL, ADD COLUMN removed_at DATETIME(3) NULL`,
    );
    await runner.query(
      `ALTER TABLE face ADD COLUMN slope VARCHAR(8) NOT NULL DEFAULT 'upright', ADD COLUMN optical VARCHAR(60) NULL, ADD COLUMN own_style BOOLEAN NOT NULL DEFAULT 0, ADD COLUMN own_family BOOLEAN NOT NULL DEFAULT 0, ADD COLUMN kind VARCHAR(12) NULL, ADD COLUMN folded_into CHAR(36) NULL, ADD COLUMN removed_at DATETIME(3) NULL`,
    );
    await runner.query(`UPDATE face SET slope = 'italic' WHERE italic = 1`);
    await runner.query(
      `ALTER TABLE family ADD COLUMN own_name BOOLEAN NOT NULL DEFAULT 0, ADD COLUMN favorite BOOLEAN NOT NULL DEFAULT 0, ADD COLUMN labels MEDIUMTEXT NULL, ADD COLUMN note MEDIUMTEXT NULL, ADD COLUMN archived_at DATETIME(3) NULL, ADD COLUMN merged_into CHAR(36) NULL`,
    );
    await runner.query(
      `ALTER TABLE workspace ADD COLUMN keep_rule TEXT NULL, ADD COLUMN palette TEXT NULL, ADD COLUMN revision BIGINT NOT NULL DEFAULT 0`,
    );
    const own = 'id CHAR(36) NOT NULL PRIMARY KEY, workspace_id CHAR(36) NOT NULL';
    const end = 'INDEX (workspace_id)) ENGINE=InnoDB';
    await runner.query(
      `CREATE TABLE collection (${own}, name VARCHAR(120) NOT NULL, family_ids MEDIUMTEXT NULL, created_at DATETIME(3) NOT NULL, removed_at DATETIME(3) NULL, ${end}`,
    );
    await runner.query(
      `CREATE TABLE kept_search (${own}, name VARCHAR(120) NOT NULL, query VARCHAR(2000) NOT NULL, created_at DATETIME(3) NOT NULL, ${end}`,
    );
    await runner.query(
      `CREATE TABLE kept_text (${own}, name VARCHAR(120) NOT NULL, text MEDIUMTEXT NOT NULL, created_at DATETIME(3) NOT NULL, ${end}`,
    );
    await runner.query(
      `CREATE TABLE library_change (${own}, by_name VARCHAR(255) NOT NULL, at DATETIME(3) NOT NULL, summary VARCHAR(500) NOT NULL, steps MEDIUMTEXT NULL, undone_at DATETIME(3) NULL, INDEX (workspace_id, at)) ENGINE=InnoDB`,
    );
    await runner.query(
      `CREATE TABLE proof_sheet (${own}, secret VARCHAR(64) COLLATE utf8mb4_bin NOT NULL, title VARCHAR(160) NOT NULL, plan MEDIUMTEXT NULL, ends_on DATE NOT NULL, created_by VARCHAR(255) NOT NULL, created_at DATETIME(3) NOT NULL, removed_at DATETIME(3) NULL, UNIQUE (secret), ${end}`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['proof_sheet', 'library_change', 'kept_text', 'kept_search', 'collection'])
      await runner.query(`DROP TABLE ${table}`);
    await runner.query('ALTER TABLE workspace DROP COLUMN keep_rule, DROP COLUMN palette, DROP COLUMN revision');
    await runner.query(
      'ALTER TABLE family DROP COLUMN own_name, DROP COLUMN favorite, DROP COLUMN labels, DROP COLUMN note, DROP COLUMN archived_at, DROP COLUMN merged_into',
    );
    await runner.query(
      'ALTER TABLE face DROP COLUMN slope, DROP COLUMN optical, DROP COLUMN own_style, DROP COLUMN own_family, DROP COLUMN kind, DROP COLUMN folded_into, DROP COLUMN removed_at',
    );
    await runner.query(
      'ALTER TABLE face_file DROP COLUMN shape, DROP COLUMN likeness, DROP COLUMN print_all, DROP COLUMN print_basic, DROP COLUMN naming, DROP COLUMN removed_at',
    );
  }
}
