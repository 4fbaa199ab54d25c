import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A layer beneath a drawing, and how a drawing looked when it was last released. */
export class IconLayers1765300000000 implements MigrationInterface {
  name = 'IconLayers1765300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE icon_drawing ADD COLUMN released_path MEDIUMTEXT NULL');
    await runner.query("UPDATE icon_drawing SET icon = JSON_SET(icon, '$.beneath', NULL) WHERE NOT JSON_EXISTS(icon, '$.beneath')");
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE icon_drawing DROP COLUMN released_path');
  }
}
