import { DataSource, type EntitySchema } from 'typeorm';
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
import { Safety1764700000000 } from './migrations/1764700000000-safety.js';

/** The pool of database connections; migrations run before the first answer is given. */
export async function openDatabase(config: Config['db'], entities: EntitySchema[]): Promise<DataSource> {
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
    ],
    synchronize: false,
    charset: 'utf8mb4_unicode_ci',
    timezone: 'Z',
    dateStrings: ['DATE'],
    poolSize: 12,
  });
  await source.initialize();
  // Two servers that start together must not both migrate. The lock belongs to a connection, so one connection takes and
  // releases it; its name is the database's, since one MariaDB may hold several.
  const lock = `migrate ${config.name}`;
  const holder = source.createQueryRunner();
  try {
    await holder.connect();
    await holder.query('SELECT GET_LOCK(?, 60)', [lock]);
    await source.runMigrations({ transaction: 'each' });
  } finally {
    await holder.query('SELECT RELEASE_LOCK(?)', [lock]);
    await holder.release();
  }
  return source;
}
