import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const HASH = 'CHAR(64) CHARACTER SET ascii COLLATE ascii_bin';
const OPTIONS = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';
const owned = `workspace_id ${ID} NOT NULL, FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE`;

/**
 * Which text counts for which face; kits with statements; time zones and quotas; invitations, resets, counted tries and
 * known browsers; versions against lost updates.
 */
export class Safety1764700000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const sql of [
      `ALTER TABLE item ADD COLUMN file_id ${ID} NULL, ADD COLUMN tries INT NOT NULL DEFAULT 0`,
      // Of a face with several files the one that came in the item's bundle; where that leaves two, either will do.
      `UPDATE item i JOIN face_file ff ON ff.face_id = i.face_id JOIN bundle_file bf ON bf.file_id = ff.file_id AND bf.bundle_id = i.bundle_id JOIN font_file f ON f.id = ff.file_id AND (SUBSTRING_INDEX(i.path, '/', -1) = f.name OR i.bytes = f.bytes) SET i.file_id = ff.file_id`,
      `ALTER TABLE face_file ADD COLUMN traits VARCHAR(200) NULL`,
      `ALTER TABLE companion ADD COLUMN findings MEDIUMTEXT NULL`,
      `CREATE TABLE companion_face (companion_id ${ID} NOT NULL, face_id ${ID} NOT NULL, reason VARCHAR(600) NULL, ${owned}, PRIMARY KEY (companion_id, face_id), KEY (face_id), FOREIGN KEY (companion_id) REFERENCES companion (id) ON DELETE CASCADE, FOREIGN KEY (face_id) REFERENCES face (id) ON DELETE CASCADE) ${OPTIONS}`,
      `CREATE TABLE kit (id ${ID} PRIMARY KEY, face_ids MEDIUMTEXT NOT NULL, created_by VARCHAR(255) NOT NULL, created_at DATETIME(3) NOT NULL, ${owned}) ${OPTIONS}`,
      `ALTER TABLE statement MODIFY delivery_id ${ID} NULL, MODIFY words TEXT NOT NULL, ADD COLUMN kit_id ${ID} NULL, ADD KEY (kit_id)`,
      `ALTER TABLE workspace ADD COLUMN time_zone VARCHAR(60) NOT NULL DEFAULT 'UTC', ADD COLUMN quota_bytes BIGINT NULL`,
      `ALTER TABLE family ADD COLUMN version INT NOT NULL DEFAULT 1`,
      `ALTER TABLE place ADD COLUMN version INT NOT NULL DEFAULT 1`,
      `ALTER TABLE member ADD COLUMN version INT NOT NULL DEFAULT 1`,
      // Two people may give the same address, so that signing up tells nobody who has an account.
      `ALTER TABLE account ADD KEY account_email (email), DROP INDEX email, ADD COLUMN demo TINYINT(1) NOT NULL DEFAULT 0`,
      `UPDATE account a SET a.demo = 1 WHERE EXISTS (SELECT 1 FROM member m JOIN workspace w ON w.id = m.workspace_id WHERE m.account_id = a.id AND w.demo > 0) AND (SELECT COUNT(*) FROM member m WHERE m.account_id = a.id) = 1`,
      `ALTER TABLE license_version ADD COLUMN act VARCHAR(10) NULL`,
      `ALTER TABLE session ADD COLUMN id ${ID} NULL, ADD COLUMN agent VARCHAR(200) NOT NULL DEFAULT '', ADD COLUMN seen_at DATETIME(3) NULL`,
      `UPDATE session SET id = UUID(), seen_at = created_at`,
      `CREATE TABLE invitation (id ${ID} PRIMARY KEY, token_hash ${HASH} NOT NULL UNIQUE, role VARCHAR(10) NOT NULL, note VARCHAR(120) NOT NULL, created_by VARCHAR(255) NOT NULL, created_at DATETIME(3) NOT NULL, expires_at DATETIME(3) NOT NULL, ${owned}) ${OPTIONS}`,
      `CREATE TABLE password_reset (token_hash ${HASH} PRIMARY KEY, account_id ${ID} NOT NULL, created_by VARCHAR(255) NOT NULL, created_at DATETIME(3) NOT NULL, expires_at DATETIME(3) NOT NULL, FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE) ${OPTIONS}`,
      `CREATE TABLE sign_in_tries (subject ${HASH} PRIMARY KEY, tries INT NOT NULL, last_at DATETIME(3) NOT NULL, free_at DATETIME(3) NOT NULL) ${OPTIONS}`,
      `CREATE TABLE known_browser (token_hash ${HASH} NOT NULL, account_id ${ID} NOT NULL, seen_at DATETIME(3) NOT NULL, PRIMARY KEY (token_hash, account_id), FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE) ${OPTIONS}`,
    ])
      await runner.query(sql);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const sql of [
      'DROP TABLE known_browser',
      'DROP TABLE sign_in_tries',
      'DROP TABLE password_reset',
      'DROP TABLE invitation',
      'ALTER TABLE session DROP COLUMN id, DROP COLUMN agent, DROP COLUMN seen_at',
      'ALTER TABLE license_version DROP COLUMN act',
      'ALTER TABLE account DROP COLUMN demo',
      'ALTER TABLE member DROP COLUMN version',
      'ALTER TABLE place DROP COLUMN version',
      'ALTER TABLE family DROP COLUMN version',
      'ALTER TABLE workspace DROP COLUMN time_zone, DROP COLUMN quota_bytes',
      'ALTER TABLE statement DROP COLUMN kit_id',
      'DROP TABLE kit',
      'DROP TABLE companion_face',
      'ALTER TABLE companion DROP COLUMN findings',
      'ALTER TABLE face_file DROP COLUMN traits',
      'ALTER TABLE item DROP COLUMN file_id, DROP COLUMN tries',
    ])
      await runner.query(sql);
  }
}
