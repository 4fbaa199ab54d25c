import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const HASH = 'CHAR(64) CHARACTER SET ascii COLLATE ascii_bin';
const OPTIONS = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';
const owned = `workspace_id ${ID} NOT NULL, FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE`;

/** Recipes kept under a name, and what each made of which face. */
export class Recipes1764900000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE kept_recipe (id ${ID} PRIMARY KEY, name VARCHAR(120) NOT NULL, wish MEDIUMTEXT NOT NULL, address MEDIUMTEXT NOT NULL, created_by VARCHAR(255) NOT NULL, created_at DATETIME(3) NOT NULL, ${owned}, UNIQUE (workspace_id, name)) ${OPTIONS}`,
    );
    await runner.query(
      `CREATE TABLE recipe_run (recipe_id ${ID} NOT NULL, face_id ${ID} NOT NULL, source_sha256 ${HASH} NOT NULL, made MEDIUMTEXT NULL, problem VARCHAR(1000) NOT NULL DEFAULT '', at DATETIME(3) NOT NULL, ${owned}, PRIMARY KEY (recipe_id, face_id), KEY (face_id), FOREIGN KEY (recipe_id) REFERENCES kept_recipe (id) ON DELETE CASCADE, FOREIGN KEY (face_id) REFERENCES face (id) ON DELETE CASCADE) ${OPTIONS}`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE recipe_run');
    await runner.query('DROP TABLE kept_recipe');
  }
}
