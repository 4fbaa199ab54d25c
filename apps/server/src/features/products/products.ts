import { createHash, randomUUID } from 'node:crypto';
import {
  keepsCodePoints,
  PRODUCTS,
  USES,
  verdict,
  type LicenseRecord,
  type ProductKind,
  type Use,
  type Verdict,
} from '@orderly-glyph/core';
import type { EditionRecipe, LicenseFields, Product } from '@orderly-glyph/schema';
import { blankLicense } from '@orderly-glyph/schema';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import { ComputeError, type Compute } from '../../platform/compute/pool.js';
import { conflict, invalid, notFound } from '../../platform/http/problem.js';
import { todayOf } from '../accounts/index.js';
import { FaceEntity, findFaces, storeFont, type LeadRow } from '../faces/index.js';
import { licensesOf } from '../library/index.js';
import {
  doubtLicense,
  LicenseEntity,
  LicenseEvidence,
  LicenseFace,
  licenseRecord,
  LicenseVersion,
  writeLicense,
  type Touching,
} from '../licenses/index.js';
import {
  CodePoint,
  ProductEntity,
  ProductRelease,
  ProductSourceEntity,
  ReleaseFile,
  type ProductRow,
  type ProductSourceRow,
} from './rows.js';

interface Who {
  workspaceId: string;
  name: string;
}

function kindOf(id: string): ProductKind<never> {
  const kind = PRODUCTS.find((k) => k.id === id);
  if (!kind) throw invalid('Nothing of that kind can be made here.', 'kind');
  return kind;
}

async function findProduct(db: DataSource | EntityManager, workspaceId: string, id: string): Promise<ProductRow> {
  const product = await db.getRepository(ProductEntity).findOneBy({ id, workspaceId });
  if (!product || product.removedAt) throw notFound('This product');
  return product;
}

/** What the sources' licenses leave open to what is made from them: never more than they give themselves. */
export async function rightsOf(
  db: DataSource,
  workspaceId: string,
  kind: Pick<ProductKind<never>, 'changes'>,
  leads: readonly LeadRow[],
): Promise<{ records: Map<string, LicenseRecord[]>; fields: LicenseFields }> {
  const today = await todayOf(db, workspaceId);
  const licenses = await licensesOf(
    db,
    workspaceId,
    leads.map((l) => l.faceId),
  );
  const records = new Map(leads.map((l) => [l.faceId, (licenses.get(l.faceId) ?? []).map(licenseRecord)]));
  const of = (lead: LeadRow, use: Use): Verdict => verdict(use, records.get(lead.faceId)!, lead.facts.embedding, today);
  for (const lead of leads)
    for (const change of kind.changes) {
      const may = verdict('changing', records.get(lead.faceId)!, lead.facts.embedding, today, { change });
      if (may.answer !== 'yes')
        throw conflict(
          `Nothing can be made from ${lead.familyName} ${lead.style}: ${may.reasons[0] ?? 'nobody gave the right to change it.'} Nothing was made.`,
        );
    }
  const uses: LicenseFields['uses'] = {};
  const quotes: LicenseFields['quotes'] = {};
  const duties = new Set<string>();
  for (const use of USES) {
    const verdicts = leads.map((l) => of(l, use));
    const no = verdicts.find((v) => v.answer === 'no');
    // What needs asking for a source stays open for what is made from it; a limit covers both together and is asked for, too.
    const limited = leads.some((l) => records.get(l.faceId)!.some((r) => Object.keys(r.limits ?? {}).length > 0));
    if (no) uses[use] = 'no';
    else if (verdicts.every((v) => v.answer === 'yes') && !limited) uses[use] = 'yes';
    for (const v of verdicts) {
      v.duties.forEach((d) => duties.add(d));
      if (v.quote) quotes[use] = v.quote.slice(0, 1000);
    }
  }
  const ends = [...records.values()].flat().flatMap((r) => r.endsOn ?? []);
  const names = [...new Set([...licenses.values()].flat().map((l) => l.name))];
  const evidence = await db.getRepository(LicenseEvidence).findBy({ licenseId: In([...licenses.values()].flat().map((l) => l.id)) });
  return {
    records,
    fields: {
      ...blankLicense([]),
      // The terms stay with what is made under them, and so do the names they reserve.
      companionIds: [...new Set(evidence.map((e) => e.companionId))],
      kind: 'made-here',
      uses,
      quotes,
      endsOn: ends.sort()[0] ?? null,
      note: `Made here from ${leads.map((l) => `${l.familyName} ${l.style}`).join(', ')}, under ${names.join(', ') || 'no license'}. It may be used for what its source may be used for.`,
      duties: [...duties].map((d) => d.slice(0, 300)).slice(0, 20),
      confirmed: true,
    },
  };
}

/** What a person made stricter on the license of a product stays so; nothing becomes a yes again by itself. */
export async function stricter(manager: EntityManager, licenseId: string, derived: LicenseFields): Promise<LicenseFields> {
  const row = await manager.getRepository(LicenseEntity).findOneByOrFail({ id: licenseId });
  if (row.removedAt)
    throw conflict(`“${row.name}”, the license of what is made here, was taken off record. Put it back first; nothing was made.`);
  const { fields } = await manager.getRepository(LicenseVersion).findOneByOrFail({ licenseId, version: row.version });
  const own = fields as LicenseFields;
  const evidence = await manager.getRepository(LicenseEvidence).findBy({ licenseId });
  const uses: LicenseFields['uses'] = {};
  for (const use of USES) {
    const answers = [own.uses[use] ?? 'ask', derived.uses[use] ?? 'ask'];
    if (answers.includes('no')) uses[use] = 'no';
    else if (!answers.includes('ask')) uses[use] = 'yes';
  }
  const ends = [own.endsOn, derived.endsOn].flatMap((day) => day ?? []).sort();
  return {
    ...own,
    uses,
    quotes: { ...derived.quotes, ...own.quotes },
    duties: [...new Set([...own.duties, ...derived.duties])].slice(0, 20),
    endsOn: ends[0] ?? null,
    companionIds: [...new Set([...evidence.map((e) => e.companionId), ...derived.companionIds])],
    confirmed: true,
  };
}

/**
 * The record of what a product is made from changed: somebody looks its license over before it says yes again. Answers with
 * the faces that may look different.
 */
export async function followSources(manager: EntityManager, who: Who, faceIds: readonly string[]): Promise<string[]> {
  if (faceIds.length === 0) return [];
  const sources = await manager.getRepository(ProductSourceEntity).findBy({ workspaceId: who.workspaceId, faceId: In([...faceIds]) });
  if (sources.length === 0) return [];
  const touched: string[] = [];
  const products = await manager.getRepository(ProductEntity).findBy({ id: In([...new Set(sources.map((s) => s.productId))]) });
  for (const { id, licenseId } of products)
    if (licenseId)
      touched.push(
        ...(await doubtLicense(
          manager,
          who,
          licenseId,
          `What is on record for ${sources
            .filter((s) => s.productId === id)
            .map((s) => s.name)
            .join(', ')} changed after this was made from it. Look it over and confirm it again.`,
        )),
      );
  return touched;
}

/** Begins a product and makes its first release; all of it or nothing. @throws HttpProblem with what stands in the way */
export async function createProduct(
  db: DataSource,
  compute: Compute,
  who: Who,
  { kind, faceIds, recipe, notes }: { kind: string; faceIds: readonly string[]; recipe: EditionRecipe; notes: string },
): Promise<Touching<Product>> {
  const { workspaceId } = who;
  kindOf(kind);
  const leads = await findFaces(db, workspaceId, faceIds);
  const product: ProductRow = {
    id: randomUUID(),
    workspaceId,
    kind,
    name: recipe.name,
    licenseId: null,
    createdBy: who.name,
    createdAt: new Date(),
    removedAt: null,
    version: 1,
  };
  const sources = leads.map((lead, position): ProductSourceRow => ({
    id: randomUUID(),
    workspaceId,
    productId: product.id,
    position,
    name: `${lead.familyName} ${lead.style}`,
    sha256: lead.sha256,
    faceIndex: lead.faceIndex,
    faceId: lead.faceId,
  }));
  const made = await release(db, compute, who, product, sources, recipe, notes, async (manager) => {
    await manager.getRepository(ProductEntity).insert(product);
    await manager.getRepository(ProductSourceEntity).insert(sources);
  });
  return { said: (await describeProducts(db, workspaceId, product.id))[0]!, faceIds: made };
}

/** Makes the next release of a product. @throws HttpProblem with what stands in the way */
export async function makeRelease(
  db: DataSource,
  compute: Compute,
  who: Who,
  productId: string,
  { recipe, notes }: { recipe: EditionRecipe; notes: string },
): Promise<Touching<Product>> {
  const product = await findProduct(db, who.workspaceId, productId);
  const sources = await db.getRepository(ProductSourceEntity).find({ where: { productId }, order: { position: 'ASC' } });
  const made = await release(db, compute, who, product, sources, recipe, notes, async () => undefined);
  return { said: (await describeProducts(db, who.workspaceId, productId))[0]!, faceIds: made };
}

/** Makes a release; answers with the faces that may look different. */
async function release(
  db: DataSource,
  compute: Compute,
  who: Who,
  product: ProductRow,
  sources: readonly ProductSourceRow[],
  recipe: EditionRecipe,
  notes: string,
  begin: (manager: EntityManager) => Promise<void>,
): Promise<string[]> {
  const { workspaceId } = who;
  const kind = kindOf(product.kind);
  const leads = await findFaces(
    db,
    workspaceId,
    sources.flatMap((s) => s.faceId ?? []),
  );
  const { records, fields } = await rightsOf(db, workspaceId, kind, leads);
  const before = await db.getRepository(ProductRelease).find({ where: { productId: product.id }, order: { number: 'DESC' }, take: 1 });
  const codePoints = (await db.getRepository(CodePoint).findBy({ productId: product.id })).map(({ codePoint, name }) => ({
    codePoint,
    name,
  }));
  const number = (before[0]?.number ?? 0) + 1;
  const given = await Promise.all(
    sources.map(async (s) => ({
      name: s.name,
      bytes: await getBlob(db.manager, workspaceId, s.sha256),
      faceIndex: s.faceIndex,
      licenses: records.get(s.faceId ?? '') ?? [],
    })),
  );
  const refuse = (error: unknown): never => {
    if (!(error instanceof ComputeError)) throw error;
    throw conflict(`${error.message} Nothing was made.`);
  };
  const made = await compute.run('makeProduct', [product.kind, given, recipe, number, codePoints], true).catch(refuse);
  const stop = made.findings.find((f) => f.severity === 'stops');
  if (stop) throw invalid(`${stop.message} Nothing was made.`, 'recipe');
  const built = made.built!;
  if (!built.comparison.equal)
    throw conflict(`What was made is not what it should be: ${built.comparison.differences.join(' ')} Nothing was kept.`);
  const files = await Promise.all(
    built.files.map(async (file) => ({
      ...file,
      sha256: createHash('sha256').update(file.bytes).digest('hex'),
      inspection: await compute.run('inspect', [file.bytes, file.name], true).catch(refuse),
    })),
  );
  keepsCodePoints(codePoints, built.codePoints);
  return db.transaction(async (manager) => {
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
    await begin(manager);
    const releaseId = randomUUID();
    const now = new Date();
    // Two people who press at once: the second finds the number taken, and nothing of theirs is kept.
    if (await manager.getRepository(ProductRelease).existsBy({ productId: product.id, number }))
      throw conflict('Somebody made a release of this meanwhile. Look at it and make yours again; nothing of yours was kept.');
    await manager.getRepository(ProductRelease).insert({
      id: releaseId,
      workspaceId,
      productId: product.id,
      number,
      recipe: recipe as object,
      notes,
      madeBy: who.name,
      madeAt: now,
      comparison: built.comparison,
    });
    const faceIds = new Set<string>();
    const earlier = product.licenseId ? await manager.getRepository(LicenseFace).findBy({ licenseId: product.licenseId }) : [];
    const own = new Set(earlier.map((l) => l.faceId));
    const others = new Set(
      (await manager.getRepository(FaceEntity).find({ where: { workspaceId }, select: { id: true } })).map((f) => f.id),
    );
    for (const { name, bytes, format, sha256, inspection } of files) {
      const outcome = await storeFont(
        manager,
        { workspaceId, bundleId: null, path: name, sha256, bytes: () => Promise.resolve(bytes) },
        inspection,
      );
      // The license made here would give its answers to somebody else's face of the same name and version.
      if (outcome.faceId && others.has(outcome.faceId) && !own.has(outcome.faceId))
        throw conflict(`There is a face of the name “${recipe.name}” here already. Give this another name; nothing was made.`);
      if (outcome.faceId) faceIds.add(outcome.faceId);
      await manager
        .getRepository(ReleaseFile)
        .insert({ releaseId, name, workspaceId, sha256, format, bytes: bytes.length, fileId: outcome.fileId ?? null });
    }
    const known = new Set(codePoints.map((c) => c.codePoint));
    const fresh = built.codePoints.filter((c) => !known.has(c.codePoint));
    if (fresh.length > 0)
      await manager
        .getRepository(CodePoint)
        .insert(fresh.map(({ codePoint, name }) => ({ productId: product.id, codePoint, workspaceId, name, sinceRelease: number })));
    const terms = product.licenseId
      ? await stricter(manager, product.licenseId, fields)
      : { ...fields, name: `${product.name}, made here` };
    const license = await writeLicense(manager, who, { ...terms, faceIds: [...new Set([...own, ...faceIds])] }, product.licenseId);
    await manager.getRepository(ProductEntity).update({ id: product.id }, { licenseId: license.id });
    return license.faceIds;
  });
}

/** Products, newest first, with their releases; or only one. */
export async function describeProducts(db: DataSource, workspaceId: string, only: string | null = null): Promise<Product[]> {
  const products = (
    await db.getRepository(ProductEntity).find({ where: { workspaceId, ...(only ? { id: only } : {}) }, order: { createdAt: 'DESC' } })
  ).filter((p) => !p.removedAt);
  if (products.length === 0) return [];
  const ids = products.map((p) => p.id);
  const sources = await db.getRepository(ProductSourceEntity).find({ where: { productId: In(ids) }, order: { position: 'ASC' } });
  const releases = await db.getRepository(ProductRelease).find({ where: { productId: In(ids) }, order: { number: 'DESC' } });
  const files =
    releases.length === 0
      ? []
      : ((await db.query(
          `SELECT rf.release_id AS releaseId, rf.name, rf.format, rf.bytes, rf.sha256, rf.file_id AS fileId, MIN(ff.face_id) AS faceId
           FROM release_file rf LEFT JOIN face_file ff ON ff.file_id = rf.file_id WHERE rf.release_id IN (?) GROUP BY rf.release_id, rf.name ORDER BY rf.name`,
          [releases.map((r) => r.id)],
        )) as (Product['releases'][number]['files'][number] & { releaseId: string })[]);
  return products.map((p) => ({
    id: p.id,
    kind: p.kind,
    kindName: kindOf(p.kind).name,
    name: p.name,
    licenseId: p.licenseId,
    sources: sources.filter((s) => s.productId === p.id).map(({ name, faceId }) => ({ name, faceId })),
    releases: releases
      .filter((r) => r.productId === p.id)
      .map((r) => ({
        number: r.number,
        recipe: r.recipe as EditionRecipe,
        notes: r.notes,
        by: r.madeBy,
        at: r.madeAt.toISOString(),
        files: files.filter((f) => f.releaseId === r.id).map(({ releaseId: _, ...f }) => f),
      })),
  }));
}
