import { DataSource, type EntityManager, type EntitySchema } from 'typeorm';
import type { Gate } from '../blobs/space.js';
import { current } from '../context/current.js';
import type { Config } from '../config.js';
import { First1764000000000 } from './migrations/1764000000000-first.js';
import { Coverage1764100000000 } from './migrations/1764100000000-coverage.js';
import { Line1764200000000 } from './migrations/1764200000000-line.js';
import { Order1764300000000 } from './migrations/1764300000000-order.js';
import { Rights1764400000000 } from './migrations/1764400000000-rights.js';
import { Calendar1764500000000 } from './migrations/1764500000000-calendar.js';
import { Evidence1764600000000 } from './migrations/1764600000000-evidence.js';
import { House1764800000000 } from './migrations/1764800000000-house.js';
import { Recipes1764900000000 } from './migrations/1764900000000-recipes.js';
import { Places1765000000000 } from './migrations/1765000000000-places.js';
import { ListOrder1765100000000 } from './migrations/1765100000000-list-order.js';
import { IconSets1765200000000 } from './migrations/1765200000000-icon-sets.js';
import { IconLayers1765300000000 } from './migrations/1765300000000-icon-layers.js';
import { Inquiries1765500000000 } from './migrations/1765500000000-inquiries.js';
import { Typefaces1765400000000 } from './migrations/1765400000000-typefaces.js';
import { Fair1765600000000 } from './migrations/1765600000000-fair.js';
import { Plans1765700000000 } from './migrations/1765700000000-plans.js';
import { Safety1764700000000 } from './migrations/1764700000000-safety.js';

/** Thrown in a transaction of a job that is no longer this server's, or was stopped; nothing of it is kept. */
export class NotOurs extends Error {}

/**
 * Transactions of work that counts once say so in the row of its job, so that none goes through after the job was stopped or
 * taken over, and whoever takes it up again after a kill knows that it went through.
 */
function countOnce(source: DataSource): void {
  const plain = source.transaction.bind(source) as (work: (manager: EntityManager) => Promise<unknown>) => Promise<unknown>;
  source.transaction = ((...args: unknown[]) => {
    const once = current()?.once;
    const work = args[args.length - 1] as (manager: EntityManager) => Promise<unknown>;
    if (!once || args.length > 1) return (plain as (...a: unknown[]) => Promise<unknown>)(...args);
    return plain(async (manager) => {
      const out = await work(manager);
      const { affectedRows } = (await manager.query(
        "UPDATE job SET applied = applied + 1 WHERE id = ? AND claimed_by = ? AND state = 'running' AND cancel_requested = 0",
        [once.jobId, once.by],
      )) as { affectedRows: number };
      if (affectedRows === 0) throw new NotOurs();
      return out;
    });
  }) as typeof source.transaction;
}

/** Everything that is written passes the gate, whoever writes it and in whatever way. */
function guard(source: DataSource, gate: Gate): void {
  const plain = source.createQueryRunner.bind(source);
  source.createQueryRunner = (mode) => {
    const runner = plain(mode);
    const query = runner.query.bind(runner) as (sql: string, parameters?: unknown[], structured?: boolean) => Promise<unknown>;
    let asking = false;
    runner.query = (async (sql: string, parameters?: unknown[], structured?: boolean) => {
      if (!asking) {
        asking = true;
        try {
          await gate.pass(runner, sql, parameters);
        } finally {
          asking = false;
        }
      }
      return query(sql, parameters, structured);
    }) as typeof runner.query;
    return Object.assign(runner, { gate });
  };
}

/** The pool of database connections; migrations run before the first answer is given. */
export async function openDatabase(config: Config['db'], entities: EntitySchema[], gate: Gate | null = null): Promise<DataSource> {
  const source = new DataSource({
    type: 'mariadb',
    host: config.host,
    port: config.port,
    username: config.user,
    password: config.password,
    database: config.name,
    entities,
    migrations: [
      First1764000000000,
      Coverage1764100000000,
      Line1764200000000,
      Order1764300000000,
      Rights1764400000000,
      Calendar1764500000000,
      Evidence1764600000000,
      Safety1764700000000,
      House1764800000000,
      Recipes1764900000000,
      Places1765000000000,
      ListOrder1765100000000,
      IconSets1765200000000,
      IconLayers1765300000000,
      Typefaces1765400000000,
      Inquiries1765500000000,
      Fair1765600000000,
      Plans1765700000000,
    ],
    synchronize: false,
    charset: 'utf8mb4_unicode_ci',
    timezone: 'Z',
    dateStrings: ['DATE'],
    poolSize: 20,
  });
  await source.initialize();
  countOnce(source);
  if (gate) guard(source, gate);
  // Two servers that start together must not both migrate. The lock belongs to a connection, so one connection takes and
  // releases it; its name is the database's, since one MariaDB may hold several.
  const lock = `migrate ${config.name}`;
  const holder = source.createQueryRunner();
  try {
    await holder.connect();
    const [{ got }] = (await holder.query('SELECT GET_LOCK(?, 60) AS got', [lock])) as [{ got: string | number | null }];
    if (Number(got) !== 1)
      throw new Error('Another server is bringing the database up to date and did not end within a minute. Start this one again then.');
    await source.runMigrations({ transaction: 'each' });
  } finally {
    await holder.query('SELECT RELEASE_LOCK(?)', [lock]);
    await holder.release();
  }
  return source;
}
