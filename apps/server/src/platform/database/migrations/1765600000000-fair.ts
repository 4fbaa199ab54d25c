import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const OPTIONS = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

/** Columns whose texts and bytes may be large, by their tables; what each row holds of them counts against the workspace's quota. */
const LARGE: Readonly<Record<string, readonly string[]>> = {
  collection: ['family_ids'],
  companion: ['findings', 'recognition', 'content'],
  delivery_item: ['removes', 'recipe'],
  derived: ['value'],
  family: ['labels', 'note'],
  house_style: ['roles'],
  icon_drawing: ['released_path', 'svg', 'icon', 'shape'],
  icon_release: ['notes', 'frozen', 'note'],
  icon_set: ['facts'],
  inquiry: ['reading', 'kept', 'candidates', 'picture', 'note', 'news'],
  job: ['result', 'input'],
  kept_recipe: ['wish', 'address'],
  kept_text: ['text'],
  kit: ['face_ids'],
  library_change: ['steps'],
  license: ['duties', 'counters', 'limits_by_use', 'quotes', 'reserved_names', 'uses', 'note'],
  license_version: ['fields'],
  place: ['rules', 'site_key'],
  place_rules: ['rules'],
  product_release: ['proof', 'notes', 'recipe'],
  proof_sheet: ['plan'],
  recipe_run: ['made'],
  rendition: ['proof'],
  starting_point: ['fields'],
  statement: ['words', 'reasons'],
  typeface: ['choices', 'wish', 'facts'],
  typeface_letter: ['ink', 'steps'],
  typeface_release: ['notes', 'note', 'shapes', 'frozen'],
  typeface_sheet: ['plan'],
};
/** Tables whose ids had another character set than what points to them, and that named no workspace to go with. */
const LOOSE = ['collection', 'kept_search', 'kept_text', 'library_change', 'proof_sheet'];

/**
 * Calls that are carried out as jobs, with what was sent and what came of them; addresses that end with a membership; ids of one
 * type; and how much each row holds.
 */
export class Fair1765600000000 implements MigrationInterface {
  name = 'Fair1765600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `ALTER TABLE job ADD COLUMN account_id ${ID} NULL, ADD COLUMN title VARCHAR(200) NOT NULL DEFAULT '', ADD COLUMN page VARCHAR(1000) NULL, ADD COLUMN not_before DATETIME(3) NULL, ADD COLUMN busy INT NOT NULL DEFAULT 0, ADD COLUMN applied INT NOT NULL DEFAULT 0, ADD COLUMN input LONGTEXT NULL, ADD COLUMN result MEDIUMTEXT NULL, ADD COLUMN bytes BIGINT NOT NULL DEFAULT 0, ADD COLUMN fetched_at DATETIME(3) NULL, ADD KEY (workspace_id, kind, state), ADD KEY (kind, state, finished_at)`,
    );
    await runner.query(
      `CREATE TABLE job_chunk (job_id ${ID} NOT NULL, part CHAR(3) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, seq INT NOT NULL, data MEDIUMBLOB NOT NULL, PRIMARY KEY (job_id, part, seq), FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE) ${OPTIONS}`,
    );
    // Addresses that open something end with the membership they rest on; those that name none are made anew.
    await runner.query('DELETE FROM password_reset');
    await runner.query(
      `ALTER TABLE password_reset ADD COLUMN workspace_id ${ID} NOT NULL, ADD COLUMN member_id ${ID} NOT NULL, ADD COLUMN member_version INT NOT NULL, ADD FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE, ADD FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE`,
    );
    await runner.query('DELETE FROM invitation');
    await runner.query(
      `ALTER TABLE invitation ADD COLUMN member_id ${ID} NULL, ADD FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE`,
    );
    // Ids that are compared have one type: with two, every comparison reads the whole table.
    await runner.query(`ALTER TABLE face MODIFY folded_into ${ID} NULL, ADD KEY (folded_into)`);
    await runner.query(`ALTER TABLE family MODIFY merged_into ${ID} NULL, ADD KEY (merged_into)`);
    for (const table of LOOSE) {
      await runner.query(`DELETE t FROM ${table} t LEFT JOIN workspace w ON w.id = CONVERT(t.workspace_id USING ascii) WHERE w.id IS NULL`);
      await runner.query(
        `ALTER TABLE ${table} MODIFY id ${ID} NOT NULL, MODIFY workspace_id ${ID} NOT NULL, ADD FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE`,
      );
    }
    for (const [table, columns] of Object.entries(LARGE)) {
      const held = columns.map((c) => `COALESCE(LENGTH(${c}), 0)`).join(' + ');
      await runner.query(
        `ALTER TABLE ${table} ADD COLUMN held BIGINT AS (${held}) PERSISTENT, ADD KEY held_by_workspace (workspace_id, held)`,
      );
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of Object.keys(LARGE)) await runner.query(`ALTER TABLE ${table} DROP KEY held_by_workspace, DROP COLUMN held`);
    await runner.query('DROP TABLE job_chunk');
    await runner.query(
      'ALTER TABLE job DROP COLUMN account_id, DROP COLUMN title, DROP COLUMN page, DROP COLUMN not_before, DROP COLUMN busy, DROP COLUMN applied, DROP COLUMN input, DROP COLUMN result, DROP COLUMN bytes, DROP COLUMN fetched_at',
    );
  }
}
