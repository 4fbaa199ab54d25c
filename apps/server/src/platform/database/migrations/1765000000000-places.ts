import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const HASH = 'CHAR(64) CHARACTER SET ascii COLLATE ascii_bin';
const OPTIONS = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';
const owned = `workspace_id ${ID} NOT NULL, FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE`;

/** Rules of a place's own, deliveries to several places, what becomes of installs, and house styles. */
export class Places1765000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `ALTER TABLE place ADD COLUMN rules MEDIUMTEXT NULL, ADD COLUMN by_hand TINYINT NOT NULL DEFAULT 0, ADD COLUMN login VARCHAR(200) NOT NULL DEFAULT '', ADD COLUMN host_key VARCHAR(200) NOT NULL DEFAULT '', ADD COLUMN page VARCHAR(300) NOT NULL DEFAULT '', MODIFY site_key TEXT NOT NULL`,
    );
    await runner.query(
      `CREATE TABLE place_rules (id BIGINT AUTO_INCREMENT PRIMARY KEY, place_id ${ID} NOT NULL, rules MEDIUMTEXT NULL, by_name VARCHAR(255) NOT NULL, at DATETIME(3) NOT NULL, ${owned}, KEY (place_id), FOREIGN KEY (place_id) REFERENCES place (id) ON DELETE CASCADE) ${OPTIONS}`,
    );
    await runner.query(
      `ALTER TABLE delivery ADD COLUMN batch_id ${ID} NULL, ADD COLUMN errand VARCHAR(10) NOT NULL DEFAULT 'put', ADD COLUMN role VARCHAR(40) NULL, ADD UNIQUE KEY one_of_a_batch (batch_id, place_id, errand)`,
    );
    await runner.query(`UPDATE delivery SET role = 'headings' WHERE headings = 1`);
    await runner.query(`ALTER TABLE delivery_item ADD COLUMN recipe MEDIUMTEXT NULL, ADD COLUMN removes TEXT NULL`);
    await runner.query(
      `UPDATE delivery_item i JOIN delivery d ON d.id = i.delivery_id SET i.recipe = CONCAT('[{"step":"container","options":{"to":"', d.convert_to, '"}}]') WHERE d.convert_to IS NOT NULL`,
    );
    await runner.query(`ALTER TABLE delivery DROP COLUMN convert_to, DROP COLUMN headings`);
    await runner.query(
      `ALTER TABLE install ADD COLUMN role VARCHAR(40) NULL, ADD COLUMN source_sha256 ${HASH} NULL, ADD COLUMN seen VARCHAR(10) NOT NULL DEFAULT 'same', ADD COLUMN seen_at DATETIME(3) NULL, ADD COLUMN seen_note VARCHAR(500) NOT NULL DEFAULT '', ADD COLUMN by_hand TINYINT NOT NULL DEFAULT 0, ADD COLUMN leaving TINYINT NOT NULL DEFAULT 0`,
    );
    await runner.query(`UPDATE install SET seen_at = installed_at`);
    await runner.query(
      `CREATE TABLE computer (place_id ${ID} PRIMARY KEY, code_hash ${HASH} NULL, code_ends_at DATETIME(3) NULL, token_hash ${HASH} NULL, system VARCHAR(120) NOT NULL DEFAULT '', joined_at DATETIME(3) NULL, synced_at DATETIME(3) NULL, ${owned}, UNIQUE (code_hash), UNIQUE (token_hash), FOREIGN KEY (place_id) REFERENCES place (id) ON DELETE CASCADE) ${OPTIONS}`,
    );
    await runner.query(
      `CREATE TABLE house_style (id ${ID} PRIMARY KEY, name VARCHAR(120) NOT NULL, roles MEDIUMTEXT NOT NULL, version INT NOT NULL, changed_by VARCHAR(255) NOT NULL, changed_at DATETIME(3) NOT NULL, ${owned}, UNIQUE (workspace_id, name)) ${OPTIONS}`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE house_style');
    await runner.query('DROP TABLE computer');
    await runner.query(
      'ALTER TABLE install DROP COLUMN role, DROP COLUMN source_sha256, DROP COLUMN seen, DROP COLUMN seen_at, DROP COLUMN seen_note, DROP COLUMN by_hand, DROP COLUMN leaving',
    );
    await runner.query('ALTER TABLE delivery ADD COLUMN convert_to VARCHAR(5) NULL, ADD COLUMN headings TINYINT NOT NULL DEFAULT 0');
    await runner.query('ALTER TABLE delivery_item DROP COLUMN recipe, DROP COLUMN removes');
    await runner.query('ALTER TABLE delivery DROP COLUMN batch_id, DROP COLUMN errand, DROP COLUMN role');
    await runner.query('DROP TABLE place_rules');
    await runner.query(
      'ALTER TABLE place DROP COLUMN rules, DROP COLUMN by_hand, DROP COLUMN login, DROP COLUMN host_key, DROP COLUMN page',
    );
  }
}
