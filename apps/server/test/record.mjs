// Loaded into the server of a test: keeps each statement that it sends, once, with the values of its first use.
import { appendFileSync, mkdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { isMainThread } from 'node:worker_threads';

// Its workers are started with the same options, and send none.
if (isMainThread && process.argv[1]?.endsWith('main.js')) {
  const require = createRequire(process.argv[1]);
  const { Connection } = require('mysql2');
  const dir = process.env.QUERIES_DIR;
  mkdirSync(dir, { recursive: true });
  const file = join(dir, `${process.pid}.jsonl`);
  const seen = new Set();
  let ready = false;
  const small = (value) => {
    if (value instanceof Date) return value.toISOString().slice(0, 23).replace('T', ' ');
    if (Array.isArray(value)) return value.slice(0, 3).map(small);
    if (typeof value === 'string') return value.length > 100 ? 'x' : value;
    return typeof value === 'object' && value !== null ? 'x' : value;
  };
  const { query } = Connection.prototype;
  Connection.prototype.query = function (sql, values, done) {
    const text = typeof sql === 'string' ? sql : sql.sql;
    const held = Array.isArray(values) ? values : (sql.values ?? []);
    // What brings a database up to date may read all of it.
    if (text.includes('RELEASE_LOCK')) ready = true;
    if (!ready) return query.call(this, sql, values, done);
    // Lists of any length are one statement.
    const key = text.replace(/\?(, ?\?)+/g, '?');
    if (/^\s*(SELECT|UPDATE|DELETE|INSERT[\s\S]*\sSELECT|REPLACE[\s\S]*\sSELECT)\s/i.test(text) && !seen.has(key)) {
      seen.add(key);
      appendFileSync(file, `${JSON.stringify({ key, sql: text, values: held.map(small) })}\n`);
    }
    return query.call(this, sql, values, done);
  };
}
