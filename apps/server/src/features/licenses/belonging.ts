import { FACTS } from '@orderly-glyph/core';
import type { BundleFace, BundleText } from '@orderly-glyph/core';
import type { DataSource } from 'typeorm';
import { In } from 'typeorm';
import { type Compute, ComputeError } from '../../platform/compute/pool.js';
import { withFact } from '../faces/index.js';
import { CompanionEntity, CompanionFace } from './rows.js';

interface FaceAt {
  faceId: string;
  path: string;
  family: string;
  familyInFile: string | null;
  fullName: string | null;
  postScriptName: string | null;
  copyright: string | null;
  license: string | null;
  licenseUrl: string | null;
}

/**
 * Works out which texts of some bundles count for which of their faces, and keeps it. A bundle whose texts cannot be
 * worked through in time counts for no face.
 */
export async function settleBelongings(db: DataSource, compute: Compute, workspaceId: string, bundleIds: readonly string[]): Promise<void> {
  for (const bundleId of bundleIds) {
    const companions = (await db.getRepository(CompanionEntity).findBy({ workspaceId, bundleId })).filter(
      (c) => c.content !== null && (c.findings?.terms || (c.findings?.mentions.length ?? 0) > 0),
    );
    const rows =
      companions.length === 0
        ? []
        : ((await db.query(
            `SELECT DISTINCT ff.face_id AS faceId, i.path, family.name AS family, JSON_VALUE(d.value, '$.family') AS familyInFile, JSON_VALUE(d.value, '$.fullName') AS fullName,
               JSON_VALUE(d.value, '$.postScriptName') AS postScriptName, JSON_VALUE(d.value, '$.copyright') AS copyright, JSON_VALUE(d.value, '$.license') AS license, JSON_VALUE(d.value, '$.licenseUrl') AS licenseUrl
             FROM item i JOIN face_file ff ON ff.file_id = i.file_id JOIN face ON face.id = ff.face_id JOIN family ON family.id = face.family_id ${withFact(FACTS, 'd')}
             WHERE i.workspace_id = ? AND i.bundle_id = ? ORDER BY i.path, ff.face_index`,
            [workspaceId, bundleId],
          )) as FaceAt[]);
    const texts: BundleText[] = companions.map((c) => ({
      id: c.id,
      path: c.name,
      content: c.content!,
      licenses: c.recognition ? [c.recognition, ...(c.recognition.others ?? [])].map((r) => r.spdxId) : [],
      findings: c.findings!,
    }));
    const faces: BundleFace[] = rows.map((r) => ({
      id: r.faceId,
      path: r.path,
      family: r.family,
      names: [r.familyInFile, r.fullName, r.postScriptName].filter((n) => n !== null),
      copyright: r.copyright,
      license: r.license,
      licenseUrl: r.licenseUrl,
    }));
    // Without texts there is nothing to hold against the faces.
    const judged = texts.length === 0 ? Promise.resolve([]) : compute.run('belongings', [texts, faces]);
    const found = await judged.catch((error: unknown) => {
      if (!(error instanceof ComputeError)) throw error;
      console.error(`Which texts of bundle ${bundleId} count for which faces could not be worked out: ${error.message}`);
      return [];
    });
    // A face that lies in several folders of a bundle has what counts in one of them.
    const kept = new Map<string, { companionId: string; faceId: string; workspaceId: string; reason: string | null }>();
    for (const { textId, faceId, reason } of found) {
      const key = `${textId} ${faceId}`;
      if (kept.get(key)?.reason !== null || !kept.has(key))
        kept.set(key, { companionId: textId, faceId, workspaceId, reason: reason?.slice(0, 600) ?? null });
    }
    await db.transaction(async (manager) => {
      const links = manager.getRepository(CompanionFace);
      const all = await manager.getRepository(CompanionEntity).find({ select: { id: true }, where: { bundleId } });
      if (all.length > 0) await links.delete({ companionId: In(all.map((c) => c.id)) });
      const list = [...kept.values()];
      for (let i = 0; i < list.length; i += 500) await links.insert(list.slice(i, i + 500));
    });
  }
}
