import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { ICON_NAME, readManifest } from '@orderly-glyph/core';
import {
  candidate,
  characterWish,
  houseRole,
  iconFacts,
  pictureReading,
  placeRules,
  proofPlan,
  typefaceFacts,
  wish,
  type CarriedRow,
  type MadePart,
} from '@orderly-glyph/schema';
import type { DataSource, EntityManager } from 'typeorm';
import { z } from 'zod';
import { getBlob, putBlob } from '../../platform/blobs/blobs.js';

/**
 * How each table of a workspace is taken along:
 * - `record`: in the record of the export, in words of its own;
 * - `rows`: as rows in its parts, with ids of their own where they are read back;
 * - `left`: not at all, for the reason given.
 */
export type Carried =
  | { as: 'record' }
  | { as: 'left'; why: string }
  | {
      as: 'rows';
      /** Texts in JSON that are checked before they are taken over; what does not hold leaves its row behind. */
      checks?: Readonly<Record<string, z.ZodType>>;
      /** Names that are one of a kind in a workspace. */
      unique?: string;
      /** Columns that are made anew, since what stood in them opens something. */
      fresh?: Readonly<Record<string, () => string>>;
      /** The column that names bytes, which come along. */
      bytes?: string;
    };

const record: Carried = { as: 'record' };
const left = (why: string): Carried => ({ as: 'left', why });
const people = left('People and their ways in belong to an installation.');
const underWay = left('Work under way is not carried over.');
const intakes = left('How files came in is history of this installation; the files come along.');
const places = left('Keys and what lies at places are facts of this installation; they stand in the record to be read.');
const anew = left('It is worked out anew from the files.');

const json = (inner: z.ZodType): z.ZodType =>
  z.string().transform((text, context) => {
    try {
      const checked = inner.safeParse(JSON.parse(text));
      if (checked.success) return text;
    } catch {
      // Said below.
    }
    context.addIssue({ code: 'custom', message: 'It does not hold.' });
    return z.NEVER;
  });
/** What a person decided about a drawing. */
const choices = z.looseObject({ name: z.string().regex(ICON_NAME), aliases: z.array(z.string().regex(ICON_NAME)).max(200) });
const manifest = z.string().refine((text) => {
  try {
    readManifest(text);
    return true;
  } catch {
    return false;
  }
});

/** Every table of the database, in the order in which rows are read back. A test holds it against the database. */
export const CARRIED: Readonly<Record<string, Carried>> = {
  workspace: record,
  proof_text: record,
  family: record,
  face: record,
  face_file: record,
  font_file: record,
  companion: record,
  collection: record,
  kept_search: record,
  kept_text: record,
  starting_point: record,
  license: record,
  license_version: record,
  license_face: record,
  license_evidence: record,
  place: record,
  install: record,
  statement: record,
  house_style: { as: 'rows', unique: 'name', checks: { roles: json(z.record(z.string(), houseRole.nullable())) } },
  place_rules: { as: 'rows', unique: 'name', checks: { rules: json(placeRules) } },
  kept_recipe: { as: 'rows', unique: 'name', checks: { wish: json(wish) } },
  recipe_run: { as: 'rows' },
  product: { as: 'rows' },
  product_source: { as: 'rows', bytes: 'sha256' },
  product_release: { as: 'rows' },
  release_file: { as: 'rows', bytes: 'sha256' },
  code_point: { as: 'rows' },
  icon_set: { as: 'rows', checks: { facts: json(iconFacts) } },
  icon_drawing: { as: 'rows', checks: { icon: json(choices) } },
  icon_release: { as: 'rows', checks: { frozen: manifest } },
  icon_release_file: { as: 'rows', bytes: 'sha256' },
  icon_code: { as: 'rows' },
  typeface: { as: 'rows', checks: { facts: json(typefaceFacts), wish: json(characterWish) } },
  typeface_letter: { as: 'rows' },
  typeface_sheet: { as: 'rows' },
  typeface_release: { as: 'rows' },
  typeface_release_file: { as: 'rows', bytes: 'sha256' },
  inquiry: { as: 'rows', checks: { reading: json(pictureReading), candidates: json(z.array(candidate)) } },
  proof_sheet: { as: 'rows', checks: { plan: json(proofPlan) }, fresh: { secret: () => randomBytes(24).toString('base64url') } },
  blob_head: { as: 'record' },
  blob_chunk: { as: 'record' },
  account: people,
  member: people,
  session: people,
  known_browser: people,
  invitation: people,
  password_reset: people,
  sign_in_tries: people,
  job: underWay,
  job_chunk: underWay,
  upload: underWay,
  upload_chunk: underWay,
  intake: intakes,
  item: intakes,
  bundle: intakes,
  bundle_file: intakes,
  computer: places,
  delivery: places,
  delivery_item: places,
  install_event: places,
  kit: places,
  derived: anew,
  companion_face: anew,
  rendition: anew,
  library_change: left('Undoing is not carried over.'),
  migrations: left('It belongs to the database.'),
};

interface Column {
  name: string;
  type: string;
  most: number | null;
  nullable: boolean;
}

/** Columns of the tables that are carried as rows, but those that are computed or say whose they are. */
async function columnsOf(db: DataSource | EntityManager): Promise<Map<string, Column[]>> {
  const rows = (await db.query(
    `SELECT table_name AS tableName, column_name AS name, data_type AS type, character_maximum_length AS most, is_nullable AS nullable
     FROM information_schema.columns WHERE table_schema = DATABASE() AND generation_expression IS NULL ORDER BY table_name, ordinal_position`,
  )) as { tableName: string; name: string; type: string; most: string | null; nullable: string }[];
  const out = new Map<string, Column[]>();
  for (const { tableName, name, type, most, nullable } of rows) {
    if (CARRIED[tableName]?.as !== 'rows' || name === 'workspace_id') continue;
    const list = out.get(tableName) ?? [];
    list.push({ name, type, most: most === null ? null : Number(most), nullable: nullable === 'YES' });
    out.set(tableName, list);
  }
  return out;
}

/** Bytes of one part of an export, more or less. */
const PART = 16 * 1024 * 1024;

/** All that was made in a workspace, in parts of which each can be held at once. */
export async function* madeParts(db: DataSource, workspaceId: string): AsyncGenerator<MadePart> {
  const all = async <T>(sql: string): Promise<T[]> => (await db.query(sql, [workspaceId])) as T[];
  const columns = await columnsOf(db);
  let part: MadePart = {
    format: 'orderly-glyph-made',
    version: 1,
    names: {
      faces: await all(
        'SELECT face.id, f.sha256, ff.face_index AS `index` FROM face JOIN face_file ff ON ff.id = face.lead_id JOIN font_file f ON f.id = ff.file_id WHERE face.workspace_id = ?',
      ),
      families: await all('SELECT id, name FROM family WHERE workspace_id = ?'),
      files: await all('SELECT id, sha256 FROM font_file WHERE workspace_id = ?'),
      licenses: (await all<{ id: string }>('SELECT id FROM license WHERE workspace_id = ? ORDER BY created_at, id')).map((r) => r.id),
    },
    tables: {},
    bytes: [],
  };
  let size = 0;
  const next = function* (added: number): Generator<MadePart> {
    size += added;
    if (size < PART) return;
    yield part;
    part = { ...part, names: null, tables: {}, bytes: [] };
    size = 0;
  };
  const wanted = new Set<string>();
  for (const [table, how] of Object.entries(CARRIED)) {
    if (how.as !== 'rows') continue;
    const own = columns.get(table)!;
    const list = own.map((c) => `\`${c.name}\``).join(', ');
    for (let from = 0; ; from += 200) {
      const rows = (await db.query(
        `SELECT ${list} FROM \`${table}\` WHERE workspace_id = ? ORDER BY ${own[0]!.name}, ${own[1]!.name} LIMIT 200 OFFSET ${from}`,
        [workspaceId],
      )) as Record<string, unknown>[];
      for (const raw of rows) {
        const row: CarriedRow = {};
        let bytes = 0;
        for (const { name } of own) {
          const value = raw[name];
          row[name] =
            value instanceof Date
              ? value.toISOString()
              : value instanceof Uint8Array
                ? { base64: Buffer.from(value).toString('base64') }
                : ((value ?? null) as string | number | null);
          bytes += typeof value === 'string' ? value.length : value instanceof Uint8Array ? value.length * 1.4 : 20;
        }
        (part.tables[table] ??= []).push(row);
        if (how.bytes) wanted.add(String(raw[how.bytes]));
        yield* next(bytes);
      }
      if (rows.length < 200) break;
    }
  }
  const fonts = new Set((await all<{ sha256: string }>('SELECT sha256 FROM font_file WHERE workspace_id = ?')).map((f) => f.sha256));
  for (const sha256 of wanted) {
    if (fonts.has(sha256)) continue;
    const data = await getBlob(db.manager, workspaceId, sha256);
    part.bytes.push({ sha256, base64: Buffer.from(data).toString('base64') });
    yield* next(data.length * 1.4);
  }
  yield part;
}

const UUID = /[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/g;

/** Ids of an export, and what they are where it is read back. */
export class Renamed {
  private readonly ids = new Map<string, string>();

  set(old: string, now: string): void {
    this.ids.set(old, now);
  }
  get(old: string): string | undefined {
    return this.ids.get(old);
  }
  /** Ids within a text, among them those in JSON. */
  within(text: string): string {
    return text.replace(UUID, (id) => this.ids.get(id) ?? id);
  }
}

/**
 * Takes over what was made elsewhere, part by part, in the caller's transaction. Rows that do not hold are left with a sentence.
 * @param ids knows faces, families, files and licenses already
 */
export class MadeReader {
  private columns: Map<string, Column[]> | null = null;
  readonly left: string[] = [];
  private readonly counts = new Map<string, number>();

  constructor(
    private readonly manager: EntityManager,
    private readonly workspaceId: string,
    private readonly ids: Renamed,
  ) {}

  /** Rows of all parts get ids first, so that those that name later ones find them. */
  announce(part: MadePart): void {
    for (const rows of Object.values(part.tables))
      for (const row of rows)
        if (typeof row.id === 'string' && new RegExp(`^${UUID.source}$`).test(row.id)) this.ids.set(row.id, randomUUID());
  }

  async takeBytes(part: MadePart): Promise<void> {
    for (const { sha256, base64 } of part.bytes) {
      const bytes = new Uint8Array(Buffer.from(base64, 'base64'));
      if (createHash('sha256').update(bytes).digest('hex') === sha256) await putBlob(this.manager, this.workspaceId, sha256, bytes);
    }
  }

  /** Takes one table of a part over; tables come in the order of CARRIED. */
  async take(table: string, rows: readonly CarriedRow[]): Promise<void> {
    const how = CARRIED[table];
    if (how?.as !== 'rows') return;
    this.columns ??= await columnsOf(this.manager);
    const columns = this.columns.get(table)!;
    for (const row of rows) {
      const why = await this.takeRow(table, how, columns, row).catch((error: { code?: string; message: string }) => {
        if (['ER_DUP_ENTRY', 'ER_NO_REFERENCED_ROW_2', 'ER_TRUNCATED_WRONG_VALUE', 'ER_BAD_NULL_ERROR'].includes(error.code ?? ''))
          return error.code === 'ER_DUP_ENTRY' ? 'it is here already' : 'what it belongs to did not come along';
        throw error;
      });
      if (why === null) this.counts.set(table, (this.counts.get(table) ?? 0) + 1);
      else if (this.left.length < 40) this.left.push(`${nameOf(table, row)}: ${why}.`);
    }
  }

  private async takeRow(
    table: string,
    how: Extract<Carried, { as: 'rows' }>,
    columns: readonly Column[],
    row: CarriedRow,
  ): Promise<string | null> {
    const values: Record<string, unknown> = { workspace_id: this.workspaceId };
    for (const { name, type, most, nullable } of columns) {
      let value: unknown = row[name] ?? null;
      const check = how.checks?.[name];
      if (check && value !== null && !check.safeParse(value).success) return `its ${name.replaceAll('_', ' ')} cannot be read`;
      if (how.fresh?.[name]) value = how.fresh[name]();
      else if (value !== null && typeof value === 'object')
        value = Buffer.from(String((value as { base64?: unknown }).base64 ?? ''), 'base64');
      else if (typeof value === 'string' && type === 'datetime') value = new Date(value);
      else if (typeof value === 'string' && type === 'char' && most === 36) {
        // An id that came with nothing is nobody's here, and never one of another workspace.
        value = this.ids.get(value) ?? null;
        if (value === null && !nullable) return 'what it belongs to did not come along';
      } else if (typeof value === 'string') {
        value = type === 'longtext' || type === 'mediumtext' || type === 'text' ? this.ids.within(value) : value;
        if (most !== null && type === 'varchar') value = (value as string).slice(0, most);
      }
      values[name] = value;
    }
    if (how.bytes) {
      const [known] = (await this.manager.query('SELECT 1 AS yes FROM blob_head WHERE workspace_id = ? AND sha256 = ?', [
        this.workspaceId,
        values[how.bytes],
      ])) as unknown[];
      if (!known) return 'its bytes did not come along';
    }
    if (how.unique) {
      const name = String(values[how.unique]);
      for (let n = 2; ; n++) {
        const [taken] = (await this.manager.query(`SELECT 1 AS yes FROM \`${table}\` WHERE workspace_id = ? AND \`${how.unique}\` = ?`, [
          this.workspaceId,
          values[how.unique],
        ])) as unknown[];
        if (!taken) break;
        values[how.unique] = `${name.slice(0, 100)} ${n}`;
      }
    }
    const names = Object.keys(values);
    await this.manager.query(
      `INSERT INTO \`${table}\` (${names.map((n) => `\`${n}\``).join(', ')}) VALUES (${names.map(() => '?').join(', ')})`,
      names.map((n) => values[n]),
    );
    return null;
  }

  count(table: string): number {
    return this.counts.get(table) ?? 0;
  }
}

const WORDS: Readonly<Record<string, string>> = {
  house_style: 'A house style',
  place_rules: 'Rules of a place',
  kept_recipe: 'A recipe',
  product: 'An edition',
  icon_set: 'An icon set',
  icon_drawing: 'A drawing',
  typeface: 'A drawn typeface',
  typeface_sheet: 'A sheet',
  inquiry: 'An inquiry',
  proof_sheet: 'A proof sheet',
};
const nameOf = (table: string, row: CarriedRow): string => {
  const said = [row.name, row.title, row.original].find((v) => typeof v === 'string');
  return `${WORDS[table] ?? 'Something made'}${said ? `, “${String(said).slice(0, 60)}”` : ''}`;
};
