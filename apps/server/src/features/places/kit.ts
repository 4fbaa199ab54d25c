import { findFaces, type LeadRow } from '../faces/index.js';
import { createHash, randomUUID } from 'node:crypto';
import { once } from 'node:events';
import type { Writable } from 'node:stream';
import {
  containerRecipe,
  fileBase,
  fontPath,
  genericOf,
  openLicense,
  sayDay,
  siteKitTexts,
  standInFor,
  verdict,
  type Layout,
  type SiteFile,
  type Verdict,
} from '@orderly-glyph/core';
import type { Handover, Role } from '@orderly-glyph/schema';
import { In, type DataSource } from 'typeorm';
import yazl from 'yazl';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';
import { notFound } from '../../platform/http/problem.js';
import { todayOf, Workspace } from '../accounts/index.js';
import { render } from '../faces/index.js';
import { licensesOf } from '../library/index.js';
import { CompanionEntity, LicenseEvidence, licenseRecord, type LicenseRow } from '../licenses/index.js';
import { known, strictest } from './places.js';
import { KitEntity } from './rows.js';
import { keepStatements, type Said, settle } from './statements.js';

const SAMPLE = 'Hamburgefonstiv 0123456789';

interface CheckedFace {
  lead: LeadRow;
  verdicts: Verdict[];
  deciding: Verdict;
  notes: string[];
  /** The license that the answer for a website rests on. */
  license: LicenseRow | null;
}

/** A kit is for a website, holds the file in other containers, and goes to whoever builds the site. */
async function checkLeads(db: DataSource, workspaceId: string, faceIds: readonly string[]): Promise<CheckedFace[]> {
  const leads = await findFaces(db, workspaceId, faceIds);
  const licenses = await licensesOf(db, workspaceId, faceIds);
  const today = await todayOf(db, workspaceId);
  return leads.map((lead) => {
    const own = licenses.get(lead.faceId) ?? [];
    const records = own.map(licenseRecord);
    const of = (use: Verdict['use']): Verdict => verdict(use, records, lead.facts.embedding, today, { change: 'container' });
    const verdicts = [of('website'), of('changing'), of('passing-on')];
    return { lead, verdicts, ...strictest(verdicts), license: own.find((l) => l.id === verdicts[0]!.licenseId) ?? null };
  });
}

const describe = (workspace: string, { lead, verdicts, deciding, notes, license }: CheckedFace): Handover => {
  const face = `${lead.familyName} ${lead.style}`;
  return {
    faceId: lead.faceId,
    face,
    verdicts: [deciding, ...verdicts.filter((v) => v !== deciding)],
    answer: deciding.answer,
    notes,
    statement: `I declare that ${workspace} has the right to put “${face}” on a website, to convert the file for that, and to pass it on to whoever builds the site.${known(notes)}`,
    overrideStatement: `I know that nothing on record gives ${workspace} the right to hand “${face}” on for a website. I hand it on all the same and answer for that.`,
    licenseName: license?.name ?? null,
  };
};

export async function checkKit(db: DataSource, workspaceId: string, faceIds: readonly string[]): Promise<Handover[]> {
  const { name } = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  return (await checkLeads(db, workspaceId, faceIds)).map((c) => describe(name, c));
}

/** Keeps the statements for a kit, which may then be fetched. @throws HttpProblem when a right or a word is missing */
export async function createKit(
  db: DataSource,
  who: { workspaceId: string; name: string; role: Role },
  said: readonly Said[],
): Promise<{ id: string; faceIds: string[]; by: string; createdAt: string }> {
  const { workspaceId } = who;
  const faceIds = said.map((s) => s.faceId);
  const { name } = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  const checks = (await checkLeads(db, workspaceId, faceIds)).map((c) => ({
    ...describe(name, c),
    verdict: c.deciding,
    overridable: c.deciding.answer === 'no',
    stop: c.lead.facts.findings.find((f) => f.severity === 'blocks')?.message ?? null,
  }));
  settle(checks, said, who.role, 'a web builder');
  const id = randomUUID();
  const now = new Date();
  await db.transaction(async (manager) => {
    await manager.getRepository(KitEntity).insert({ id, workspaceId, faceIds, createdBy: who.name, createdAt: now });
    await keepStatements(manager, who, { kitId: id }, checks, said, now);
  });
  return { id, faceIds, by: who.name, createdAt: now.toISOString() };
}

/** A kit somebody made, and what its file is called. */
export async function openKit(db: DataSource, workspaceId: string, id: string): Promise<{ name: string; faceIds: string[] }> {
  const kit = await db.getRepository(KitEntity).findOneBy({ id, workspaceId });
  if (!kit) throw notFound('This kit');
  const faces = await findFaces(db, workspaceId, kit.faceIds);
  const base = faces.length === 1 ? `${faces[0]!.familyName.replace(/[^A-Za-z0-9]+/g, '-')}-` : '';
  return { name: `${base}web-kit.zip`, faceIds: kit.faceIds };
}

const sha384 = (bytes: Uint8Array | string): string => createHash('sha384').update(bytes).digest('base64');

/**
 * Writes a handover kit for a website as a ZIP: fonts, style sheet with stand-ins, preload and server lines, test page, terms
 * and how-to.
 * @param languages CLDR tags of the languages that the workspace sells in
 */
export async function writeKit(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceIds: readonly string[],
  { layout, languages, sample }: { layout: Layout; languages: readonly string[]; sample: string | null },
  out: Writable,
): Promise<void> {
  const checked = await checkLeads(db, workspaceId, faceIds);
  const zip = new yazl.ZipFile();
  const options = { mtime: new Date() };
  const files: SiteFile[] = [];
  const used = new Set<string>();
  for (const { lead, license } of checked) {
    let base = fileBase(lead.familyName, lead.style);
    for (let n = 2; used.has(base); n++) base = `${fileBase(lead.familyName, lead.style)}-${n}`;
    used.add(base);
    const rendered = await render(db, compute, workspaceId, lead, containerRecipe('woff2'), true);
    const bytes = await getBlob(db.manager, workspaceId, rendered.sha256);
    // A part of the hash in the name: another version is another address, and browsers may keep each for good.
    const name = `${base}.${rendered.sha256.slice(0, 8)}`;
    zip.addBuffer(Buffer.from(bytes), fontPath(layout, name), { ...options, compress: false });
    const weight = lead.facts.axes.find((a) => a.tag === 'wght');
    const generic = genericOf(lead.ownKind ?? lead.shape?.value ?? null);
    const source = await getBlob(db.manager, workspaceId, lead.sha256);
    const fallback = await compute.run(
      'standIn',
      [source, lead.faceIndex, standInFor(generic, lead.weightClass), languages.length > 0 ? languages : ['en']],
      true,
    );
    files.push({
      family: lead.familyName,
      style: lead.style,
      weightClass: lead.weightClass,
      weightRange: weight ? [weight.min, weight.max] : null,
      italic: Boolean(lead.italic),
      fileBase: name,
      bytes: rendered.bytes,
      sourceBytes: lead.bytes,
      sha384: sha384(bytes),
      runs: lead.facts.runs,
      unicodeRange: null,
      fallback,
      generic,
      licenseName: license?.name ?? null,
    });
  }
  const kit = { name: 'Web kit', layout, files, sample: sample ?? SAMPLE };
  for (const text of siteKitTexts(kit, sha384)) zip.addBuffer(Buffer.from(text.content, 'utf8'), text.path, options);
  await addTerms(zip, db, workspaceId, checked, options);
  zip.end();
  zip.outputStream.pipe(out);
  await once(zip.outputStream, 'end');
}

const safe = (name: string): string => name.replace(/[^\w. -]/g, '_').replace(/^\.+/, '') || 'terms';

/**
 * The texts of the licenses that the answers rest on, and no others, as plain text whatever they came as: what a stranger
 * wrote as a page must not run where a web builder opens it. Receipts are nobody else's business.
 */
export async function addTerms(
  zip: yazl.ZipFile,
  db: DataSource,
  workspaceId: string,
  checked: readonly Pick<CheckedFace, 'lead' | 'license'>[],
  options: { mtime: Date },
): Promise<void> {
  const ids = [...new Set(checked.flatMap((c) => c.license?.id ?? []))];
  const links = ids.length === 0 ? [] : await db.getRepository(LicenseEvidence).findBy({ workspaceId, licenseId: In(ids) });
  const companions =
    links.length === 0 ? [] : await db.getRepository(CompanionEntity).findBy({ workspaceId, id: In(links.map((l) => l.companionId)) });
  const byId = new Map(companions.map((c) => [c.id, c]));
  const groups = new Map<string, { family: string; license: LicenseRow | null }>();
  for (const { lead, license } of checked) groups.set(`${lead.familyName} ${license?.id ?? ''}`, { family: lead.familyName, license });
  const folders = new Set<string>();
  for (const { family, license } of groups.values()) {
    const base = `license/${fileBase(family, '').replace(/-Regular$/, '')}`;
    let folder = base;
    for (let n = 2; folders.has(folder); n++) folder = `${base}-${n}`;
    folders.add(folder);
    const own = links.filter((l) => l.licenseId === license?.id).flatMap((l) => byId.get(l.companionId) ?? []);
    const written = new Set<string>();
    const unread: string[] = [];
    for (const c of own) {
      if (c.kind === 'receipt' || c.kind === 'picture') continue;
      const name = c.name.split('/').pop()!;
      if (c.content === null) {
        unread.push(name);
        continue;
      }
      let path = `${folder}/${safe(name).replace(/(\.(txt|md))?$/i, '')}.txt`;
      for (let n = 2; written.has(path); n++) path = `${folder}/${safe(name).replace(/(\.(txt|md))?$/i, '')} ${n}.txt`;
      written.add(path);
      zip.addBuffer(Buffer.from(`${c.content}\n`, 'utf8'), path, options);
    }
    const open = license?.spdxId ? openLicense(license.spdxId) : null;
    const lines = [
      family,
      license
        ? `License on record: ${license.name}${license.confirmed ? '' : ' (not confirmed yet)'}`
        : 'No license is on record. Ask before you use it.',
      ...(license?.startsOn ? [`From ${sayDay(license.startsOn)}`] : []),
      ...(license?.endsOn ? [`Until ${sayDay(license.endsOn)}; take the files off the site by then.`] : []),
      ...[...new Set([...(open?.duties ?? []), ...(license?.duties ?? [])])].map((d) => `- ${d}`),
      ...(license?.note ? ['', license.note] : []),
      ...unread.map((name) => `Its terms are in ${name} as well, which could not be written as text; ask for it.`),
    ];
    zip.addBuffer(Buffer.from(`${lines.join('\n')}\n`, 'utf8'), `${folder}/ABOUT-THE-LICENSE.txt`, options);
  }
}
