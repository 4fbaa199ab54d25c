import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import ts from 'typescript';
import { startServer, type TestServer } from './setup.js';

// Runs after all other tests of the server: each statement that they made it send is planned on a database that is filled.

const ROOT = process.cwd();
const ROWS = 3000;
const WORKSPACES = 20;

interface Sent {
  key: string;
  sql: string;
  values: unknown[];
}

let server: TestServer;
const sent = new Map<string, Sent>();
beforeAll(async () => {
  const folder = join(ROOT, '.test/queries');
  for (const name of readdirSync(folder))
    for (const line of readFileSync(join(folder, name), 'utf8').split('\n'))
      if (line !== '') {
        const one = JSON.parse(line) as Sent;
        if (!sent.has(one.key)) sent.set(one.key, one);
      }
  server = await startServer();
  await fill();
});
afterAll(() => server.stop());

const query = async <T>(sql: string, values: unknown[] = []): Promise<T[]> => (await server.sql.query(sql, values))[0] as unknown as T[];

/** The same ids stand in all tables, so that every id that is asked for is there. */
const id = (n: string): string => `CONCAT(LPAD(HEX(${n}), 8, '0'), '-0000-4000-8000-000000000000')`;

async function fill(): Promise<void> {
  await query('SET FOREIGN_KEY_CHECKS = 0');
  await query("SET sql_mode = ''");
  const tables = await query<{ t: string }>(
    "SELECT table_name AS t FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name <> 'migrations'",
  );
  for (const { t } of tables) {
    const columns = await query<{ c: string; type: string; size: string | null; nullable: string; place: number; extra: string }>(
      'SELECT column_name AS c, data_type AS type, character_maximum_length AS size, is_nullable AS nullable, ordinal_position AS place, extra FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ? ORDER BY ordinal_position',
      [t],
    );
    const kept = columns.filter((c) => !/GENERATED|auto_increment/i.test(c.extra));
    const value = ({ c, type, size, nullable, place }: (typeof kept)[number]): string => {
      const filled =
        type === 'char' && Number(size) === 36
          ? id(c === 'workspace_id' ? `seq % ${WORKSPACES}` : c === 'id' ? 'seq' : `(seq * 7 + ${place}) % ${ROWS}`)
          : /char/.test(type) && Number(size) === 64
            ? `SHA2(seq % 1500, 256)`
            : /char/.test(type)
              ? `LEFT(CONCAT('v', seq % 50), ${size})`
              : /text/.test(type)
                ? "'{}'"
                : /blob|binary/.test(type)
                  ? "'x'"
                  : /date|time/.test(type)
                    ? // Few are past, as with what ends one day.
                      'NOW() + INTERVAL CAST(seq AS SIGNED) - 100 MINUTE'
                    : type === 'tinyint'
                      ? 'seq % 2'
                      : 'seq % 1000';
      return nullable === 'YES' ? `IF(seq % 5 = 0, ${filled}, NULL)` : filled;
    };
    await query(
      `INSERT IGNORE INTO \`${t}\` (${kept.map((c) => `\`${c.c}\``).join(', ')}) SELECT ${kept.map(value).join(', ')} FROM seq_0_to_${ROWS - 1}`,
    );
    await query(`ANALYZE TABLE \`${t}\``);
  }
}

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;
const there = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(there)
    : typeof value !== 'string'
      ? value
      : UUID.test(value)
        ? '00000003-0000-4000-8000-000000000000'
        : /^[0-9a-f]{64}$/.test(value)
          ? // Source: SHA-256 of "3", as the tables have it.
            '4e07408562bedb8b60ce05c1decfe3ad16b72230967de01f640b7e4729b49fce'
          : value;

/** Statements that may read a whole table, with the reason. */
const MAY: readonly [RegExp, string][] = [
  [
    /^SELECT DISTINCT i\.workspace_id AS id FROM install i JOIN place p/,
    'once a night everything installed is looked at, and most of it asks for it',
  ],
  [
    /^SELECT `place`.`id` AS `place_id`, `place`.`site_key` AS `place_site_key` FROM `place` `place`$/,
    'keys of places are sealed once, when a server starts',
  ],
  [/^SELECT `workspace`.`id` AS `workspace_id` FROM `workspace` `workspace`$/, 'workspaces are looked through once, when a server starts'],
  [
    /^UPDATE session s JOIN account a|^UPDATE workspace w JOIN|^DELETE FROM `\u0000` WHERE workspace_id = \?$/,
    'the sample starts over, in a database of one person',
  ],
];

const allowed = (sql: string): boolean => MAY.some(([form]) => form.test(sql));

interface Step {
  table: string | null;
  type: string | null;
  rows: number | null;
  Extra: string | null;
}

async function scans(sql: string, values: unknown[]): Promise<string[]> {
  const steps = await query<Step>(`EXPLAIN ${mysql.format(sql, values as string[])}`);
  return steps
    .filter((s) => s.table !== null && !s.table.startsWith('<') && (s.type === 'ALL' || s.type === 'index') && Number(s.rows) > ROWS / 3)
    .map((s) => `${s.table} (${s.type}, ${s.rows})`);
}

test('no statement that the server sends reads the whole of a table that grows with use', async () => {
  expect(sent.size).toBeGreaterThan(300);
  const odd: string[] = [];
  for (const { sql, values } of sent.values()) {
    if (allowed(sql) || /information_schema/.test(sql)) continue;
    const found = await scans(sql, values.map(there)).catch((e: Error) => [`not planned: ${e.message}`]);
    if (found.length > 0) odd.push(`${found.join(', ')}: ${sql}`);
  }
  expect(odd).toEqual([]);
});

/** Texts of statements in the server's source, each with the form that what it sends has. */
function written(): { place: string; text: string; form: RegExp }[] {
  const found: { place: string; text: string; form: RegExp }[] = [];
  const walk = (dir: string): void => {
    for (const entry of readdirSync(dir, { withFileTypes: true })) {
      const path = join(dir, entry.name);
      if (entry.isDirectory()) {
        if (entry.name !== 'migrations') walk(path);
      } else if (entry.name.endsWith('.ts') && !entry.name.endsWith('.test.ts')) {
        const file = ts.createSourceFile(path, readFileSync(path, 'utf8'), ts.ScriptTarget.Latest);
        const visit = (node: ts.Node): void => {
          const pieces =
            ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)
              ? [node.text]
              : ts.isTemplateExpression(node)
                ? [node.head.text, ...node.templateSpans.map((s) => s.literal.text)]
                : null;
          if (pieces && /^\s*(SELECT|UPDATE|DELETE)\s[\s\S]*\b(FROM|SET)\b/.test(pieces.join(' ')))
            found.push({
              place: `${path.slice(ROOT.length + 1)}:${file.getLineAndCharacterOfPosition(node.pos).line + 2}`,
              text: pieces.join('\u0000'),
              form: new RegExp(pieces.map((p) => p.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')).join('[\\s\\S]*')),
            });
          ts.forEachChild(node, visit);
        };
        visit(file);
      }
    }
  };
  walk(join(ROOT, 'apps/server/src'));
  return found;
}

test('each statement written in the source is one of those, or is planned as it stands', async () => {
  const all = [...sent.values()].map((s) => s.sql);
  const odd: string[] = [];
  const statements = written();
  expect(statements.length).toBeGreaterThan(150);
  for (const { place, text, form } of statements) {
    if (allowed(text) || all.some((sql) => form.test(sql) || form.test(sql.trim()))) continue;
    if (text.includes('\u0000')) odd.push(`${place}: no test sends it`);
    else {
      const values = text
        .split('?')
        .slice(0, -1)
        .map((before) => (/_at\s*[<>]=?\s*$/.test(before) ? '2020-01-01' : '00000003-0000-4000-8000-000000000000'));
      const found = await scans(text, values).catch((e: Error) => [`not planned: ${e.message}`]);
      if (found.length > 0) odd.push(`${place}: ${found.join(', ')}`);
    }
  }
  expect(odd).toEqual([]);
});
