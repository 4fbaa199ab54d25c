import { existsSync } from 'node:fs';
import { rm, writeFile } from 'node:fs/promises';
import type { DataSource } from 'typeorm';
import type { Config } from '../../platform/config.js';
import { HttpProblem } from '../../platform/http/problem.js';

/** How long the practice places may take to start over, ms. */
const PLACES_MS = 3000;

/**
 * Puts the sample business back to how it was when it had just been loaded: its rows lie in a database beside this one. All of
 * it or nothing; nothing of any other workspace is touched. The practice places start over with it.
 * @throws HttpProblem 409 when no copy of it was kept
 */
export async function startSampleOver(db: DataSource, config: Config, workspaceId: string): Promise<void> {
  const kept = `${config.db.name}_sample`;
  const tables = (await db.query('SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ?', [kept])) as {
    name: string;
  }[];
  if (!tables.some((t) => t.name === 'workspace'))
    throw new HttpProblem(
      409,
      'no-copy',
      'No copy of the sample as it was at first is here. Start once with an empty data folder; nothing was changed.',
    );
  const columns = (await db.query(
    `SELECT n.table_name AS tableName, n.column_name AS name FROM information_schema.columns n
       JOIN information_schema.columns k ON k.table_schema = ? AND k.table_name = n.table_name AND k.column_name = n.column_name
     WHERE n.table_schema = DATABASE() AND n.generation_expression IS NULL`,
    [kept],
  )) as { tableName: string; name: string }[];
  const own = (await db.query(
    "SELECT table_name AS name FROM information_schema.columns WHERE table_schema = DATABASE() AND column_name = 'workspace_id'",
  )) as { name: string }[];
  const listOf = (table: string): string =>
    columns
      .filter((c) => c.tableName === table)
      .map((c) => `\`${c.name}\``)
      .join(', ');
  await db.transaction(async (manager) => {
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
    // Rows go and come in any order; together they are whole again.
    await manager.query('SET FOREIGN_KEY_CHECKS = 0');
    try {
      await manager.query('DELETE c FROM job_chunk c JOIN job j ON j.id = c.job_id WHERE j.workspace_id = ?', [workspaceId]);
      for (const { name } of own)
        if (name !== 'session') await manager.query(`DELETE FROM \`${name}\` WHERE workspace_id = ?`, [workspaceId]);
      for (const { name } of own)
        if (name !== 'session' && tables.some((t) => t.name === name)) {
          const list = listOf(name);
          await manager.query(`INSERT INTO \`${name}\` (${list}) SELECT ${list} FROM \`${kept}\`.\`${name}\``);
        }
      const settings = columns.filter((c) => c.tableName === 'workspace' && !['id', 'revision'].includes(c.name));
      await manager.query(
        `UPDATE workspace w JOIN \`${kept}\`.workspace k ON k.id = w.id SET ${settings.map((c) => `w.\`${c.name}\` = k.\`${c.name}\``).join(', ')}, w.revision = w.revision + 1 WHERE w.id = ?`,
        [workspaceId],
      );
      await manager.query('UPDATE session s JOIN account a ON a.id = s.account_id SET s.workspace_id = ? WHERE a.demo = 1', [workspaceId]);
    } finally {
      await manager.query('SET FOREIGN_KEY_CHECKS = 1');
    }
  });
  if (!config.sampleMarker) return;
  await writeFile(config.sampleMarker, '');
  for (const until = Date.now() + PLACES_MS; existsSync(config.sampleMarker) && Date.now() < until;)
    await new Promise((r) => setTimeout(r, 50));
  // Places that do not run find no wish when they are started again.
  await rm(config.sampleMarker, { force: true });
}
