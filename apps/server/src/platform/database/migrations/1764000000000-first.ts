import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const HASH = 'CHAR(64) CHARACTER SET ascii COLLATE ascii_bin';
const OPTIONS = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

/** Every table but account and session belongs to a workspace and goes with it. */
const owned = `workspace_id ${ID} NOT NULL, FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE`;

const TABLES: readonly string[] = [
  `workspace (id ${ID} PRIMARY KEY, name VARCHAR(255) NOT NULL, demo INT NOT NULL DEFAULT 0, created_at DATETIME(3) NOT NULL)`,
  `account (id ${ID} PRIMARY KEY, email VARCHAR(190) NOT NULL UNIQUE, name VARCHAR(255) NOT NULL, password_hash VARCHAR(255) NOT NULL, created_at DATETIME(3) NOT NULL)`,
  `member (id ${ID} PRIMARY KEY, account_id ${ID} NOT NULL, role VARCHAR(10) NOT NULL, ${owned}, UNIQUE (workspace_id, account_id), FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE)`,
  `session (token_hash ${HASH} PRIMARY KEY, account_id ${ID} NOT NULL, workspace_id ${ID} NULL, created_at DATETIME(3) NOT NULL, expires_at DATETIME(3) NOT NULL, FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE, FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE SET NULL)`,
  `proof_text (id ${ID} PRIMARY KEY, position INT NOT NULL, language VARCHAR(35) NOT NULL, label VARCHAR(60) NOT NULL, text VARCHAR(400) NOT NULL, ${owned})`,
  `job (id ${ID} PRIMARY KEY, kind VARCHAR(10) NOT NULL, subject_id ${ID} NOT NULL, state VARCHAR(10) NOT NULL, done INT NOT NULL DEFAULT 0, total INT NOT NULL DEFAULT 0, message VARCHAR(500) NOT NULL DEFAULT '', claimed_by ${ID} NULL, heartbeat_at DATETIME(3) NULL, cancel_requested TINYINT(1) NOT NULL DEFAULT 0, attempts INT NOT NULL DEFAULT 0, created_at DATETIME(3) NOT NULL, finished_at DATETIME(3) NULL, ${owned}, KEY (state, created_at))`,
  `intake (id ${ID} PRIMARY KEY, label VARCHAR(255) NOT NULL, state VARCHAR(12) NOT NULL, created_by ${ID} NOT NULL, created_at DATETIME(3) NOT NULL, job_id ${ID} NULL, ${owned}, KEY (workspace_id, created_at))`,
  `upload (id ${ID} PRIMARY KEY, intake_id ${ID} NOT NULL, name VARCHAR(1000) NOT NULL, bytes INT NOT NULL, state VARCHAR(12) NOT NULL, touched_at DATETIME(3) NOT NULL, ${owned}, FOREIGN KEY (intake_id) REFERENCES intake (id) ON DELETE CASCADE)`,
  `upload_chunk (upload_id ${ID} NOT NULL, seq INT NOT NULL, data MEDIUMBLOB NOT NULL, PRIMARY KEY (upload_id, seq), FOREIGN KEY (upload_id) REFERENCES upload (id) ON DELETE CASCADE)`,
  `bundle (id ${ID} PRIMARY KEY, intake_id ${ID} NOT NULL, upload_id ${ID} NULL, name VARCHAR(1000) NOT NULL, ${owned}, FOREIGN KEY (intake_id) REFERENCES intake (id) ON DELETE CASCADE)`,
  `item (id ${ID} PRIMARY KEY, intake_id ${ID} NOT NULL, seq INT NOT NULL, upload_id ${ID} NOT NULL, bundle_id ${ID} NOT NULL, path VARCHAR(1000) NOT NULL, entry INT NULL, nested_entry INT NULL, bytes INT NOT NULL, state VARCHAR(14) NOT NULL, reason VARCHAR(1000) NOT NULL DEFAULT '', face_id ${ID} NULL, companion_id ${ID} NULL, ${owned}, UNIQUE (intake_id, seq), KEY (intake_id, state), FOREIGN KEY (intake_id) REFERENCES intake (id) ON DELETE CASCADE)`,
  `blob_head (sha256 ${HASH} NOT NULL, bytes INT NOT NULL, ${owned}, PRIMARY KEY (workspace_id, sha256))`,
  `blob_chunk (workspace_id ${ID} NOT NULL, sha256 ${HASH} NOT NULL, seq INT NOT NULL, data MEDIUMBLOB NOT NULL, PRIMARY KEY (workspace_id, sha256, seq), FOREIGN KEY (workspace_id, sha256) REFERENCES blob_head (workspace_id, sha256) ON DELETE CASCADE)`,
  `font_file (id ${ID} PRIMARY KEY, sha256 ${HASH} NOT NULL, name VARCHAR(1000) NOT NULL, format VARCHAR(5) NOT NULL, bytes INT NOT NULL, created_at DATETIME(3) NOT NULL, ${owned}, UNIQUE (workspace_id, sha256), FOREIGN KEY (workspace_id, sha256) REFERENCES blob_head (workspace_id, sha256))`,
  `bundle_file (bundle_id ${ID} NOT NULL, file_id ${ID} NOT NULL, ${owned}, PRIMARY KEY (bundle_id, file_id), FOREIGN KEY (bundle_id) REFERENCES bundle (id) ON DELETE CASCADE, FOREIGN KEY (file_id) REFERENCES font_file (id) ON DELETE CASCADE)`,
  `family (id ${ID} PRIMARY KEY, name VARCHAR(255) NOT NULL, name_key VARCHAR(190) COLLATE utf8mb4_bin NOT NULL, created_at DATETIME(3) NOT NULL, ${owned}, UNIQUE (workspace_id, name_key))`,
  `face (id ${ID} PRIMARY KEY, family_id ${ID} NOT NULL, face_key VARCHAR(190) COLLATE utf8mb4_bin NOT NULL, style VARCHAR(255) NOT NULL, weight_class INT NOT NULL, width_class INT NOT NULL, italic TINYINT(1) NOT NULL, lead_id ${ID} NOT NULL, created_at DATETIME(3) NOT NULL, ${owned}, UNIQUE (workspace_id, face_key), FOREIGN KEY (family_id) REFERENCES family (id) ON DELETE CASCADE)`,
  `face_file (id ${ID} PRIMARY KEY, face_id ${ID} NOT NULL, file_id ${ID} NOT NULL, face_index INT NOT NULL, code_points INT NOT NULL, facts MEDIUMTEXT NOT NULL, facts_version INT NOT NULL, ${owned}, UNIQUE (file_id, face_index), KEY (face_id), FOREIGN KEY (face_id) REFERENCES face (id) ON DELETE CASCADE, FOREIGN KEY (file_id) REFERENCES font_file (id) ON DELETE CASCADE)`,
  `companion (id ${ID} PRIMARY KEY, bundle_id ${ID} NOT NULL, sha256 ${HASH} NOT NULL, name VARCHAR(1000) NOT NULL, kind VARCHAR(10) NOT NULL, bytes INT NOT NULL, content MEDIUMTEXT NULL, recognition MEDIUMTEXT NULL, ${owned}, KEY (bundle_id), FOREIGN KEY (bundle_id) REFERENCES bundle (id) ON DELETE CASCADE, FOREIGN KEY (workspace_id, sha256) REFERENCES blob_head (workspace_id, sha256))`,
  `license (id ${ID} PRIMARY KEY, name VARCHAR(255) NOT NULL, kind VARCHAR(14) NOT NULL, spdx_id VARCHAR(60) NULL, grantor VARCHAR(255) NOT NULL, uses MEDIUMTEXT NOT NULL, starts_on DATE NULL, ends_on DATE NULL, note MEDIUMTEXT NOT NULL, confirmed TINYINT(1) NOT NULL, confirmed_by VARCHAR(255) NULL, confirmed_at DATETIME(3) NULL, reserved_names MEDIUMTEXT NULL, version INT NOT NULL, removed_at DATETIME(3) NULL, created_at DATETIME(3) NOT NULL, ${owned})`,
  `license_version (license_id ${ID} NOT NULL, version INT NOT NULL, fields MEDIUMTEXT NOT NULL, by_name VARCHAR(255) NOT NULL, at DATETIME(3) NOT NULL, ${owned}, PRIMARY KEY (license_id, version), FOREIGN KEY (license_id) REFERENCES license (id))`,
  `license_face (license_id ${ID} NOT NULL, face_id ${ID} NOT NULL, ${owned}, PRIMARY KEY (license_id, face_id), FOREIGN KEY (license_id) REFERENCES license (id) ON DELETE CASCADE, FOREIGN KEY (face_id) REFERENCES face (id) ON DELETE CASCADE)`,
  `license_evidence (license_id ${ID} NOT NULL, companion_id ${ID} NOT NULL, ${owned}, PRIMARY KEY (license_id, companion_id), FOREIGN KEY (license_id) REFERENCES license (id) ON DELETE CASCADE, FOREIGN KEY (companion_id) REFERENCES companion (id) ON DELETE CASCADE)`,
  `place (id ${ID} PRIMARY KEY, name VARCHAR(255) NOT NULL, profile_id VARCHAR(40) NOT NULL, address VARCHAR(300) NOT NULL, site_key VARCHAR(200) NOT NULL, created_at DATETIME(3) NOT NULL, ${owned})`,
  `rendition (source_sha256 ${HASH} NOT NULL, face_index INT NOT NULL, format VARCHAR(5) NOT NULL, sha256 ${HASH} NOT NULL, bytes INT NOT NULL, proof MEDIUMTEXT NOT NULL, ${owned}, PRIMARY KEY (workspace_id, source_sha256, face_index, format), FOREIGN KEY (workspace_id, sha256) REFERENCES blob_head (workspace_id, sha256))`,
  `delivery (id ${ID} PRIMARY KEY, place_id ${ID} NOT NULL, convert_to VARCHAR(5) NULL, headings TINYINT(1) NOT NULL, job_id ${ID} NOT NULL, created_by ${ID} NOT NULL, created_at DATETIME(3) NOT NULL, ${owned}, FOREIGN KEY (place_id) REFERENCES place (id))`,
  `delivery_item (id ${ID} PRIMARY KEY, delivery_id ${ID} NOT NULL, position INT NOT NULL, face_id ${ID} NOT NULL, state VARCHAR(10) NOT NULL, message VARCHAR(1000) NOT NULL DEFAULT '', bytes INT NULL, sha256 ${HASH} NULL, ${owned}, KEY (delivery_id), FOREIGN KEY (delivery_id) REFERENCES delivery (id) ON DELETE CASCADE)`,
  `statement (id ${ID} PRIMARY KEY, delivery_id ${ID} NOT NULL, face_id ${ID} NOT NULL, words VARCHAR(1000) NOT NULL, person VARCHAR(255) NOT NULL, answer VARCHAR(3) NOT NULL, reasons MEDIUMTEXT NOT NULL, note VARCHAR(1000) NOT NULL, license_id ${ID} NULL, license_version INT NULL, license_name VARCHAR(255) NULL, at DATETIME(3) NOT NULL, ${owned}, KEY (delivery_id), FOREIGN KEY (delivery_id) REFERENCES delivery (id))`,
  `install (id ${ID} PRIMARY KEY, place_id ${ID} NOT NULL, face_id ${ID} NOT NULL, delivery_id ${ID} NOT NULL, sha256 ${HASH} NOT NULL, format VARCHAR(5) NOT NULL, bytes INT NOT NULL, version VARCHAR(255) NOT NULL, remote_name VARCHAR(255) NOT NULL, installed_by VARCHAR(255) NOT NULL, installed_at DATETIME(3) NOT NULL, removed_at DATETIME(3) NULL, ${owned}, KEY (place_id), KEY (face_id), FOREIGN KEY (place_id) REFERENCES place (id), FOREIGN KEY (face_id) REFERENCES face (id))`,
];

const nameOf = (definition: string): string => definition.slice(0, definition.indexOf(' '));

export class First1764000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const definition of TABLES) await runner.query(`CREATE TABLE ${definition} ${OPTIONS}`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const definition of [...TABLES].reverse()) await runner.query(`DROP TABLE ${nameOf(definition)}`);
  }
}
