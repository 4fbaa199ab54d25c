import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const HASH = 'CHAR(64) CHARACTER SET ascii COLLATE ascii_bin';
const OPTIONS = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';
const owned = `workspace_id ${ID} NOT NULL, FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE`;
const blob = 'KEY (workspace_id, sha256), FOREIGN KEY (workspace_id, sha256) REFERENCES blob_head (workspace_id, sha256)';
const ofFace = `typeface_id ${ID} NOT NULL, FOREIGN KEY (typeface_id) REFERENCES typeface (id) ON DELETE CASCADE`;

/** Drawn typefaces, their letters, sheets and releases. */
export class Typefaces1765400000000 implements MigrationInterface {
  name = 'Typefaces1765400000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const sql of [
      `CREATE TABLE typeface (id ${ID} PRIMARY KEY, facts MEDIUMTEXT NOT NULL, wish MEDIUMTEXT NOT NULL, choices MEDIUMTEXT NOT NULL, license_id ${ID} NULL, version INT NOT NULL DEFAULT 1, created_by VARCHAR(255) NOT NULL, created_at DATETIME(3) NOT NULL, changed_at DATETIME(3) NOT NULL, removed_at DATETIME(3) NULL, ${owned}) ${OPTIONS}`,
      `CREATE TABLE typeface_letter (id ${ID} PRIMARY KEY, letter VARCHAR(80) COLLATE utf8mb4_bin NOT NULL, variant INT NOT NULL, ink MEDIUMTEXT NOT NULL, steps MEDIUMTEXT NOT NULL, from_name VARCHAR(1000) NOT NULL, created_at DATETIME(3) NOT NULL, removed_at DATETIME(3) NULL, ${ofFace}, ${owned}, KEY (typeface_id, removed_at)) ${OPTIONS}`,
      `CREATE TABLE typeface_sheet (id CHAR(16) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY, plan MEDIUMTEXT NOT NULL, pages INT NOT NULL, made_at DATETIME(3) NOT NULL, ${ofFace}, ${owned}) ${OPTIONS}`,
      `CREATE TABLE typeface_release (id ${ID} PRIMARY KEY, number INT NOT NULL, day CHAR(10) NOT NULL, notes TEXT NOT NULL, note LONGTEXT NOT NULL, shapes LONGTEXT NOT NULL, frozen LONGTEXT NOT NULL, made_by VARCHAR(255) NOT NULL, made_at DATETIME(3) NOT NULL, ${ofFace}, ${owned}, UNIQUE (typeface_id, number)) ${OPTIONS}`,
      `CREATE TABLE typeface_release_file (release_id ${ID} NOT NULL, name VARCHAR(255) NOT NULL, sha256 ${HASH} NOT NULL, bytes INT NOT NULL, face_id ${ID} NULL, ${owned}, PRIMARY KEY (release_id, name), ${blob}, FOREIGN KEY (release_id) REFERENCES typeface_release (id) ON DELETE CASCADE) ${OPTIONS}`,
    ])
      await runner.query(sql);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['typeface_release_file', 'typeface_release', 'typeface_sheet', 'typeface_letter', 'typeface'])
      await runner.query(`DROP TABLE ${table}`);
  }
}
