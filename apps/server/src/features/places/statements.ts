import { randomUUID } from 'node:crypto';
import type { Verdict } from '@orderly-glyph/core';
import type { Role } from '@orderly-glyph/schema';
import type { EntityManager } from 'typeorm';
import { conflict, HttpProblem, invalid } from '../../platform/http/problem.js';
import { LicenseEntity } from '../licenses/index.js';
import { Statement } from './rows.js';

/** What a face that is about to leave was checked for. */
export interface Checked {
  faceId: string;
  face: string;
  /** The verdict that decides: the strictest of all that handing it over needs. */
  verdict: Pick<Verdict, 'answer' | 'reasons' | 'licenseId'>;
  statement: string;
  overrideStatement: string;
  licenseName: string | null;
  /** Whether nothing but a missing right stops it. */
  overridable: boolean;
  /** What else stops it, as a sentence. */
  stop: string | null;
}

/** What a person says to it. */
export interface Said {
  faceId: string;
  statement: string;
  note: string;
  override: boolean;
}

/** Nobody is made to declare a right that the record denies. */
const wordsOf = (check: Checked): string => (check.verdict.answer === 'no' ? check.overrideStatement : check.statement);

/**
 * Holds what was said against what was checked. "Ask first" needs a written reason, "no" an owner who takes it upon
 * themselves with one; what a place itself would refuse nobody can override.
 * @throws HttpProblem with what is missing; nothing has happened then
 */
export function settle(checks: readonly Checked[], said: readonly Said[], role: Role, where: string): void {
  checks.forEach((check, i) => {
    const asked = said[i]!;
    const overridden = asked.override && check.overridable;
    if (overridden && role !== 'owner')
      throw new HttpProblem(403, 'role', `Only an owner may let ${check.face} go there without a right. Ask one; nothing was sent.`);
    if (overridden && asked.note === '')
      throw invalid(`For ${check.face} the answer is No. Write down why you go ahead; nothing was sent.`, 'note');
    if (check.stop) throw conflict(`${check.face} cannot go to ${where}: ${check.stop}`);
    if (check.verdict.answer === 'no' && !overridden)
      throw conflict(`${check.face} cannot go to ${where}: ${check.verdict.reasons[0] ?? 'there is no right to it.'}`);
    if (asked.statement !== wordsOf(check))
      throw conflict('The words of the statement changed while you read them. Look at the check again; nothing was sent.');
    if (check.verdict.answer === 'ask' && asked.note === '')
      throw invalid(`For ${check.face} the license does not settle this. Write down why you go ahead; nothing was sent.`, 'note');
  });
}

/** Keeps who declared which right, in which words, resting on which version of which license. */
export async function keepStatements(
  manager: EntityManager,
  who: { workspaceId: string; name: string },
  of: { deliveryId: string } | { kitId: string },
  checks: readonly Checked[],
  said: readonly Said[],
  at: Date,
): Promise<void> {
  const licenses = await manager
    .getRepository(LicenseEntity)
    .find({ select: { id: true, version: true }, where: { workspaceId: who.workspaceId } });
  const versions = new Map(licenses.map((l) => [l.id, l.version]));
  for (const [i, check] of checks.entries()) {
    const { licenseId } = check.verdict;
    await manager.getRepository(Statement).insert({
      id: randomUUID(),
      workspaceId: who.workspaceId,
      deliveryId: null,
      kitId: null,
      ...of,
      faceId: check.faceId,
      words: wordsOf(check),
      person: who.name,
      answer: check.verdict.answer,
      reasons: check.verdict.reasons,
      note: said[i]!.note,
      licenseId,
      licenseVersion: licenseId ? (versions.get(licenseId) ?? null) : null,
      licenseName: check.licenseName,
      overridden: check.verdict.answer === 'no',
      at,
    });
  }
}
