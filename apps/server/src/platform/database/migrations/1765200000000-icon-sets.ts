import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const HASH = 'CHAR(64) CHARACTER SET ascii COLLATE ascii_bin';
const OPTIONS = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';
const owned = `workspace_id ${ID} NOT NULL, FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE`;
const blob = 'KEY (workspace_id, sha256), FOREIGN KEY (workspace_id, sha256) REFERENCES blob_head (workspace_id, sha256)';

/** Icon sets, their drawings, releases, and the code points that those gave away. */
export class IconSets1765200000000 implements MigrationInterface {
  name = 'IconSets1765200000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const sql of [
      `CREATE TABLE icon_set (id ${ID} PRIMARY KEY, facts MEDIUMTEXT NOT NULL, license_id ${ID} NULL, version INT NOT NULL DEFAULT 1, created_by VARCHAR(255) NOT NULL, created_at DATETIME(3) NOT NULL, changed_at DATETIME(3) NOT NULL, removed_at DATETIME(3) NULL, ${owned}) ${OPTIONS}`,
      `CREATE TABLE icon_drawing (id ${ID} PRIMARY KEY, set_id ${ID} NOT NULL, position INT NOT NULL, original VARCHAR(1000) NOT NULL, icon MEDIUMTEXT NOT NULL, svg MEDIUMTEXT NOT NULL, shape MEDIUMTEXT NOT NULL, from_face_id ${ID} NULL, from_name VARCHAR(1000) NULL, removed_at DATETIME(3) NULL, ${owned}, KEY (set_id, position), FOREIGN KEY (set_id) REFERENCES icon_set (id) ON DELETE CASCADE) ${OPTIONS}`,
      `CREATE TABLE icon_release (id ${ID} PRIMARY KEY, set_id ${ID} NOT NULL, number INT NOT NULL, day CHAR(10) NOT NULL, notes TEXT NOT NULL, note MEDIUMTEXT NOT NULL, frozen LONGTEXT NOT NULL, made_by VARCHAR(255) NOT NULL, made_at DATETIME(3) NOT NULL, ${owned}, UNIQUE (set_id, number), FOREIGN KEY (set_id) REFERENCES icon_set (id) ON DELETE CASCADE) ${OPTIONS}`,
      `CREATE TABLE icon_release_file (release_id ${ID} NOT NULL, name VARCHAR(255) NOT NULL, sha256 ${HASH} NOT NULL, bytes INT NOT NULL, face_id ${ID} NULL, ${owned}, PRIMARY KEY (release_id, name), ${blob}, FOREIGN KEY (release_id) REFERENCES icon_release (id) ON DELETE CASCADE) ${OPTIONS}`,
      `CREATE TABLE icon_code (set_id ${ID} NOT NULL, code_point INT NOT NULL, drawing_id ${ID} NOT NULL, name VARCHAR(120) NOT NULL, since_release INT NOT NULL, ${owned}, PRIMARY KEY (set_id, code_point), FOREIGN KEY (set_id) REFERENCES icon_set (id) ON DELETE CASCADE) ${OPTIONS}`,
    ])
      await runner.query(sql);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['icon_code', 'icon_release_file', 'icon_release', 'icon_drawing', 'icon_set'])
      await runner.query(`DROP TABLE ${table}`);
  }
}
