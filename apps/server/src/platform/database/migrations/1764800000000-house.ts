import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const HASH = 'CHAR(64) CHARACTER SET ascii COLLATE ascii_bin';
const OPTIONS = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';
const owned = `workspace_id ${ID} NOT NULL, FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE`;

/** Moves a derived column into the table of facts. A column that was never computed stays missing and is computed then. */
const moved = (id: string, value: string, where: string): string =>
  `INSERT INTO derived (file_id, face_index, id, version, value, workspace_id)
   SELECT file_id, face_index, '${id}', facts_version, ${value}, workspace_id FROM face_file WHERE ${where}`;

/** Languages were a column of their own, with a space before and after each. */
const LANGUAGES = `JSON_EXTRACT(IF(TRIM(languages) = '', '[]', CONCAT('["', REPLACE(TRIM(languages), ' ', '","'), '"]')), '$')`;

/**
 * Facts of faces in one table; renditions by recipe; evidence by itself; the ledger of installs; products and their
 * releases; indexes and foreign keys that were missing.
 */
export class House1764800000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const sql of [
      `CREATE TABLE derived (file_id ${ID} NOT NULL, face_index INT NOT NULL, id VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, version INT NOT NULL, value MEDIUMTEXT NOT NULL, ${owned}, PRIMARY KEY (file_id, face_index, id), FOREIGN KEY (file_id) REFERENCES font_file (id) ON DELETE CASCADE) ${OPTIONS}`,
      moved('facts', 'facts', 'facts IS NOT NULL'),
      moved('coverage', "COALESCE(coverage, 'null')", 'line IS NOT NULL'),
      moved('kind', "COALESCE(shape, 'null')", 'line IS NOT NULL'),
      moved('likeness', "COALESCE(likeness, 'null')", 'line IS NOT NULL'),
      moved('naming', 'naming', 'naming IS NOT NULL'),
      moved(
        'prints',
        "IF(print_all IS NULL, 'null', JSON_OBJECT('all', print_all, 'basic', print_basic, 'traits', JSON_EXTRACT(traits, '$')))",
        'line IS NOT NULL AND (print_all IS NULL OR traits IS NOT NULL)',
      ),
      moved('line', `JSON_SET(line, '$.languages', ${LANGUAGES}, '$.codePoints', code_points)`, 'line IS NOT NULL'),
      `ALTER TABLE face_file DROP COLUMN code_points, DROP COLUMN facts, DROP COLUMN facts_version, DROP COLUMN languages, DROP COLUMN coverage, DROP COLUMN line, DROP COLUMN shape, DROP COLUMN likeness, DROP COLUMN print_all, DROP COLUMN print_basic, DROP COLUMN traits, DROP COLUMN naming`,

      `ALTER TABLE rendition ADD COLUMN recipe VARCHAR(400) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT ''`,
      `UPDATE rendition SET recipe = CONCAT('container@1([["to","', format, '"]])')`,
      `ALTER TABLE rendition DROP PRIMARY KEY, ADD PRIMARY KEY (workspace_id, source_sha256, face_index, recipe)`,

      `ALTER TABLE companion MODIFY bundle_id ${ID} NULL`,
      // Evidence used to come with an intake of its own that nobody had started; its items name the intake as their upload.
      `UPDATE companion c JOIN item i ON i.companion_id = c.id AND i.upload_id = i.intake_id SET c.bundle_id = NULL`,
      `DELETE n FROM intake n JOIN item i ON i.intake_id = n.id AND i.upload_id = n.id`,

      `CREATE TABLE install_event (id BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY, install_id ${ID} NOT NULL, kind VARCHAR(10) NOT NULL, at DATETIME(3) NOT NULL, by_name VARCHAR(255) NOT NULL, place_id ${ID} NOT NULL, face_id ${ID} NOT NULL, delivery_id ${ID} NOT NULL, remote_name VARCHAR(255) NOT NULL, sha256 ${HASH} NOT NULL, format VARCHAR(5) NOT NULL, bytes INT NOT NULL, version VARCHAR(255) NOT NULL, note VARCHAR(500) NOT NULL, ${owned}, KEY (install_id, id), KEY (delivery_id), KEY (place_id), KEY (face_id), KEY (workspace_id, sha256)) ${OPTIONS}`,
      ...(['verified', 'withdrawn'] as const).map(
        (kind) =>
          `INSERT INTO install_event (install_id, kind, at, by_name, place_id, face_id, delivery_id, remote_name, sha256, format, bytes, version, note, workspace_id)
           SELECT id, '${kind}', ${kind === 'verified' ? 'installed_at' : 'removed_at'}, ${kind === 'verified' ? 'installed_by' : "''"}, place_id, face_id, delivery_id, remote_name, sha256, format, bytes, version, '', workspace_id
           FROM install ${kind === 'verified' ? '' : 'WHERE removed_at IS NOT NULL'} ORDER BY installed_at, id`,
      ),

      `CREATE TABLE product (id ${ID} PRIMARY KEY, kind VARCHAR(20) NOT NULL, name VARCHAR(120) NOT NULL, license_id ${ID} NULL, created_by VARCHAR(255) NOT NULL, created_at DATETIME(3) NOT NULL, removed_at DATETIME(3) NULL, version INT NOT NULL DEFAULT 1, ${owned}) ${OPTIONS}`,
      `CREATE TABLE product_source (id ${ID} PRIMARY KEY, product_id ${ID} NOT NULL, position INT NOT NULL, name VARCHAR(1000) NOT NULL, sha256 ${HASH} NOT NULL, face_index INT NOT NULL, face_id ${ID} NULL, ${owned}, KEY (product_id), KEY (workspace_id, sha256), FOREIGN KEY (product_id) REFERENCES product (id) ON DELETE CASCADE, FOREIGN KEY (workspace_id, sha256) REFERENCES blob_head (workspace_id, sha256)) ${OPTIONS}`,
      `CREATE TABLE product_release (id ${ID} PRIMARY KEY, product_id ${ID} NOT NULL, number INT NOT NULL, recipe MEDIUMTEXT NOT NULL, notes TEXT NOT NULL, made_by VARCHAR(255) NOT NULL, made_at DATETIME(3) NOT NULL, proof MEDIUMTEXT NOT NULL, ${owned}, UNIQUE (product_id, number), FOREIGN KEY (product_id) REFERENCES product (id) ON DELETE CASCADE) ${OPTIONS}`,
      `CREATE TABLE release_file (release_id ${ID} NOT NULL, name VARCHAR(255) NOT NULL, sha256 ${HASH} NOT NULL, format VARCHAR(5) NOT NULL, bytes INT NOT NULL, file_id ${ID} NULL, ${owned}, PRIMARY KEY (release_id, name), KEY (workspace_id, sha256), FOREIGN KEY (release_id) REFERENCES product_release (id) ON DELETE CASCADE, FOREIGN KEY (workspace_id, sha256) REFERENCES blob_head (workspace_id, sha256)) ${OPTIONS}`,
      `CREATE TABLE code_point (product_id ${ID} NOT NULL, code_point INT NOT NULL, name VARCHAR(120) NOT NULL, since_release INT NOT NULL, ${owned}, PRIMARY KEY (product_id, code_point), FOREIGN KEY (product_id) REFERENCES product (id) ON DELETE CASCADE) ${OPTIONS}`,

      `ALTER TABLE statement ADD KEY (face_id)`,
      `ALTER TABLE delivery_item ADD KEY (face_id), ADD KEY (workspace_id, sha256)`,
      // The two tables of chunks had no workspace of their own to go with.
      `ALTER TABLE upload_chunk ADD COLUMN workspace_id ${ID} NULL`,
      `UPDATE upload_chunk c JOIN upload u ON u.id = c.upload_id SET c.workspace_id = u.workspace_id`,
      `ALTER TABLE upload_chunk MODIFY workspace_id ${ID} NOT NULL, ADD FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE`,
      `ALTER TABLE blob_chunk ADD FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE`,
    ])
      await runner.query(sql);
  }

  /** Back to columns; what the older version cannot hold (the ledger, products, recipes of several steps) is lost. */
  async down(runner: QueryRunner): Promise<void> {
    const column = (name: string, id: string): string =>
      `UPDATE face_file ff JOIN derived d ON d.file_id = ff.file_id AND d.face_index = ff.face_index AND d.id = '${id}' SET ff.${name} = NULLIF(d.value, 'null')`;
    for (const sql of [
      'ALTER TABLE blob_chunk DROP FOREIGN KEY IF EXISTS blob_chunk_ibfk_2',
      'ALTER TABLE upload_chunk DROP FOREIGN KEY IF EXISTS upload_chunk_ibfk_2',
      'ALTER TABLE upload_chunk DROP COLUMN workspace_id',
      'DROP TABLE code_point',
      'DROP TABLE release_file',
      'DROP TABLE product_release',
      'DROP TABLE product_source',
      'DROP TABLE product',
      'DROP TABLE install_event',
      `DELETE FROM rendition WHERE recipe NOT LIKE 'container@1(%' OR recipe LIKE '%>%'`,
      'ALTER TABLE rendition DROP PRIMARY KEY, ADD PRIMARY KEY (workspace_id, source_sha256, face_index, format), DROP COLUMN recipe',
      `ALTER TABLE face_file ADD COLUMN code_points INT NOT NULL DEFAULT 0, ADD COLUMN facts MEDIUMTEXT NULL, ADD COLUMN facts_version INT NOT NULL DEFAULT 0, ADD COLUMN languages TEXT NULL, ADD COLUMN coverage MEDIUMTEXT NULL, ADD COLUMN line MEDIUMTEXT NULL, ADD COLUMN shape MEDIUMTEXT NULL, ADD COLUMN likeness MEDIUMTEXT NULL, ADD COLUMN print_all VARCHAR(16) NULL, ADD COLUMN print_basic VARCHAR(16) NULL, ADD COLUMN traits VARCHAR(200) NULL, ADD COLUMN naming MEDIUMTEXT NULL`,
      column('facts', 'facts'),
      column('line', 'line'),
      column('naming', 'naming'),
      'DROP TABLE derived',
    ])
      await runner.query(sql);
  }
}
