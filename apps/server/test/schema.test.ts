import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { startServer, type TestServer } from './setup.js';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());
const rows = async <T>(sql: string): Promise<T[]> => (await server.sql.query(sql))[0] as unknown as T[];

test('every id has one type: columns of two character sets are compared by reading the whole table', async () => {
  const odd = await rows<{ t: string; c: string }>(
    "SELECT table_name AS t, column_name AS c FROM information_schema.columns WHERE table_schema = DATABASE() AND data_type IN ('char', 'varchar') AND (column_name = 'id' OR column_name LIKE '%\\_id' OR column_name IN ('folded_into', 'merged_into', 'claimed_by', 'sha256')) AND character_maximum_length IN (36, 64) AND (collation_name <> 'ascii_bin' OR data_type <> 'char')",
  );
  expect(odd.map((o) => `${o.t}.${o.c}`)).toEqual([]);
});

test('every row that belongs to a workspace goes with it', async () => {
  const loose = await rows<{ t: string }>(
    `SELECT c.table_name AS t FROM information_schema.columns c WHERE c.table_schema = DATABASE() AND c.column_name = 'workspace_id' AND c.table_name NOT IN ('session', 'blob_chunk', 'upload_chunk')
       AND NOT EXISTS (SELECT 1 FROM information_schema.key_column_usage k JOIN information_schema.referential_constraints r ON r.constraint_schema = k.constraint_schema AND r.constraint_name = k.constraint_name AND r.table_name = k.table_name
         WHERE k.table_schema = c.table_schema AND k.table_name = c.table_name AND k.column_name = 'workspace_id' AND k.referenced_table_name IN ('workspace', 'blob_head'))`,
  );
  expect(loose.map((l) => l.t)).toEqual([]);
});

test('every table with large columns says how much each row holds, in an index by workspace', async () => {
  const large = await rows<{ t: string }>(
    `SELECT DISTINCT c.table_name AS t FROM information_schema.columns c WHERE c.table_schema = DATABASE() AND c.data_type IN ('text', 'mediumtext', 'longtext', 'blob', 'mediumblob', 'longblob')
       AND c.table_name NOT IN ('workspace', 'blob_chunk', 'upload_chunk', 'job_chunk')
       AND NOT EXISTS (SELECT 1 FROM information_schema.statistics s WHERE s.table_schema = c.table_schema AND s.table_name = c.table_name AND s.index_name = 'held_by_workspace' AND s.column_name = 'held')`,
  );
  expect(large.map((l) => l.t)).toEqual([]);
  // None of the large columns is left out of the sum.
  const sums = await rows<{ t: string; c: string; sum: string }>(
    `SELECT c.table_name AS t, c.column_name AS c, h.generation_expression AS sum FROM information_schema.columns c JOIN information_schema.columns h ON h.table_schema = c.table_schema AND h.table_name = c.table_name AND h.column_name = 'held'
     WHERE c.table_schema = DATABASE() AND c.data_type IN ('text', 'mediumtext', 'longtext', 'blob', 'mediumblob', 'longblob')`,
  );
  expect(sums.filter((s) => !s.sum.includes(`\`${s.c}\``)).map((s) => `${s.t}.${s.c}`)).toEqual([]);
});

/** Of each migration that was published, so that none is edited afterwards: a database has run it as it was. */
const PUBLISHED: Readonly<Record<string, string>> = JSON.parse(
  readFileSync(join(process.cwd(), 'apps/server/test/migrations.json'), 'utf8'),
) as Record<string, string>;

test('no published migration was edited', () => {
  const folder = join(process.cwd(), 'apps/server/src/platform/database/migrations');
  const now = Object.fromEntries(
    readdirSync(folder).map((name) => [
      name,
      createHash('sha256')
        .update(readFileSync(join(folder, name)))
        .digest('hex'),
    ]),
  );
  expect(now).toEqual(PUBLISHED);
});
