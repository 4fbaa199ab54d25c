import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const OPTIONS = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

/** Customers' pictures and the faces that were found for them. */
export class Inquiries1765500000000 implements MigrationInterface {
  name = 'Inquiries1765500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE inquiry (id ${ID} PRIMARY KEY, title VARCHAR(120) NOT NULL, customer VARCHAR(200) NOT NULL, note TEXT NOT NULL, price DECIMAL(9,2) NULL, currency CHAR(3) NULL, purpose VARCHAR(40) NOT NULL, is_open BOOLEAN NOT NULL, reading MEDIUMTEXT NOT NULL, sureness VARCHAR(20) NULL, candidates MEDIUMTEXT NOT NULL, kept MEDIUMTEXT NULL, picture LONGBLOB NOT NULL, width INT NOT NULL, height INT NOT NULL, news MEDIUMTEXT NULL, searched_at DATETIME(3) NOT NULL, version INT NOT NULL DEFAULT 1, created_by VARCHAR(255) NOT NULL, created_at DATETIME(3) NOT NULL, changed_at DATETIME(3) NOT NULL, removed_at DATETIME(3) NULL, workspace_id ${ID} NOT NULL, FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE, KEY (workspace_id, is_open)) ${OPTIONS}`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE inquiry');
  }
}
