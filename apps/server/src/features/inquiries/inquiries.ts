import { randomUUID } from 'node:crypto';
import type { Body, Inquiry, InquiryBrief, routes } from '@orderly-glyph/schema';
import { IsNull, type DataSource } from 'typeorm';
import { conflict, invalid, notFound, stale } from '../../platform/http/problem.js';
import { InquiryEntity, type InquiryRow } from './rows.js';

type Fields = Body<typeof routes.createInquiry>;
interface Who {
  workspaceId: string;
  name: string;
}

/** Inquiries of one workspace at most. */
const MOST_INQUIRIES = 5000;

export async function findInquiry(db: DataSource, workspaceId: string, id: string, removed = false): Promise<InquiryRow> {
  const row = await db.getRepository(InquiryEntity).findOneBy({ id, workspaceId });
  if (!row || (row.removedAt !== null) !== removed) throw notFound('This inquiry');
  return row;
}

const described = (row: InquiryRow): Inquiry => ({
  id: row.id,
  title: row.title,
  customer: row.customer,
  note: row.note,
  price: row.price === null ? null : Number(row.price),
  currency: row.currency,
  use: row.use,
  open: Boolean(row.open),
  reading: row.reading,
  sureness: row.sureness,
  candidates: row.candidates,
  width: row.width,
  height: row.height,
  version: row.version,
  createdBy: row.createdBy,
  createdAt: row.createdAt.toISOString(),
  changedAt: row.changedAt.toISOString(),
  news: row.news,
});

export const describeInquiry = async (db: DataSource, workspaceId: string, id: string): Promise<Inquiry> =>
  described(await findInquiry(db, workspaceId, id));

export async function listInquiries(db: DataSource, workspaceId: string): Promise<InquiryBrief[]> {
  const rows = await db.getRepository(InquiryEntity).find({
    where: { workspaceId, removedAt: IsNull() },
    order: { changedAt: 'DESC' },
    select: {
      id: true,
      title: true,
      customer: true,
      open: true,
      sureness: true,
      news: true,
      changedAt: true,
      width: true,
      height: true,
      reading: true,
      candidates: true,
    } as never,
  });
  return rows.map((r) => ({
    id: r.id,
    title: r.title,
    customer: r.customer,
    open: Boolean(r.open),
    sureness: r.sureness,
    news: r.news,
    changedAt: r.changedAt.toISOString(),
    width: r.width,
    height: r.height,
    word: r.reading.word,
    faceId: r.candidates[0]?.faceId ?? null,
  }));
}

/** Width and height in a PNG's head. Source: PNG (third edition), 11.2.1. @throws HttpProblem when it is none */
function sizeOf(png: Buffer): [number, number] {
  const isPng = png.length > 33 && png.readUInt32BE(0) === 0x89504e47 && png.toString('latin1', 12, 16) === 'IHDR';
  const [width, height] = isPng ? [png.readUInt32BE(16), png.readUInt32BE(20)] : [0, 0];
  if (!(width > 0 && height > 0 && width * height <= 16_000_000))
    throw invalid('The picture of an inquiry is a PNG of at most 16 million px.', 'png');
  return [width, height];
}

const columns = ({ title, customer, note, price, currency, use, open, reading, sureness, candidates, kept }: Omit<Fields, 'png'>) => ({
  title,
  customer,
  note,
  price: price === null ? null : price.toFixed(2),
  currency,
  use,
  open,
  reading,
  sureness,
  candidates,
  kept,
});

export async function createInquiry(db: DataSource, who: Who, { png, ...fields }: Fields): Promise<string> {
  const bytes = Buffer.from(png, 'base64');
  const [width, height] = sizeOf(bytes);
  const id = randomUUID();
  const now = new Date();
  await db.transaction(async (manager) => {
    if ((await manager.getRepository(InquiryEntity).countBy({ workspaceId: who.workspaceId, removedAt: IsNull() })) >= MOST_INQUIRIES)
      throw conflict(`A workspace keeps ${MOST_INQUIRIES.toLocaleString('en-US')} inquiries at most. Forget some that are done.`);
    const row = columns(fields);
    await manager.query(
      `INSERT INTO inquiry (id, workspace_id, title, customer, note, price, currency, purpose, is_open, reading, sureness, candidates, kept, picture, width, height, news, searched_at, version, created_by, created_at, changed_at)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, NULL, ?, 1, ?, ?, ?)`,
      [
        id,
        who.workspaceId,
        row.title,
        row.customer,
        row.note,
        row.price,
        row.currency,
        row.use,
        row.open,
        JSON.stringify(row.reading),
        row.sureness,
        JSON.stringify(row.candidates),
        row.kept ? JSON.stringify(row.kept) : null,
        bytes,
        width,
        height,
        now,
        who.name,
        now,
        now,
      ],
    );
  });
  return id;
}

/** Changes an inquiry; whoever does has seen what came in since. @throws HttpProblem when somebody changed it meanwhile */
export async function changeInquiry(
  db: DataSource,
  who: Who,
  id: string,
  { version, ...fields }: Body<typeof routes.changeInquiry>,
): Promise<void> {
  const row = await findInquiry(db, who.workspaceId, id);
  const now = new Date();
  const { affected } = await db
    .getRepository(InquiryEntity)
    .update({ id, version }, { ...columns(fields), news: null, searchedAt: now, version: version + 1, changedAt: now } as never);
  if (!affected) throw stale(`Somebody changed “${row.title}” while you worked on it`);
}

/** The picture as it came. */
export async function pictureOf(db: DataSource, workspaceId: string, id: string): Promise<Uint8Array> {
  await findInquiry(db, workspaceId, id);
  const [row] = (await db.query('SELECT picture FROM inquiry WHERE id = ? AND workspace_id = ?', [id, workspaceId])) as {
    picture: Buffer;
  }[];
  return row!.picture;
}
