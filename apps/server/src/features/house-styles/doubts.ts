import { isSure, missingFrom, writesOf } from '@orderly-glyph/core';
import { contrast, HOUSE_ROLES, type HouseStyle } from '@orderly-glyph/schema';
import type { LeadRow } from '../faces/index.js';

/** Families that a house style bears; common practice: two or three. */
const MOST_FAMILIES = 3;
/** Points below which running text is hard to read in print; common practice. */
const LEAST_TEXT = 8;
/** Large text by WCAG 2.2, 1.4.3: 18 points, or 14 when bold. */
const isLarge = (size: number, weight: number): boolean => size >= 18 || (size >= 14 && weight >= 700);

/** What of a house style deserves a second look, in sentences. */
export function doubtsOf(
  roles: HouseStyle['roles'],
  leads: ReadonlyMap<string, LeadRow>,
  texts: readonly { label: string; text: string }[],
): HouseStyle['doubts'] {
  const out: HouseStyle['doubts'] = [];
  const families = new Set(HOUSE_ROLES.flatMap((r) => leads.get(roles[r]?.faceId ?? '')?.familyId ?? []));
  if (families.size > MOST_FAMILIES)
    out.push({
      role: null,
      message: `It has ${families.size} families; ${MOST_FAMILIES} are the most a brand bears on a website or in a store.`,
    });
  for (const role of HOUSE_ROLES) {
    const set = roles[role];
    const lead = leads.get(set?.faceId ?? '');
    if (!set || !lead) continue;
    const name = `${lead.familyName} ${lead.style}`;
    const say = (message: string): void => void out.push({ role, message });
    const ratio = contrast(set.ink, set.paper);
    const wanted = isLarge(set.size, lead.weightClass) ? 3 : 4.5;
    if (ratio < wanted)
      say(
        `The contrast of its colors is ${ratio.toFixed(1)} to 1; at ${set.size} points it should be ${wanted} to 1 or more (WCAG 2.2, 1.4.3).`,
      );
    const lacking = texts
      .map(({ label, text }) => ({
        label,
        missing: missingFrom(text, writesOf(lead.coverage?.writes?.runs ?? [], lead.coverage?.writes?.loose ?? [])),
      }))
      .filter((t) => t.missing.length > 0);
    if (lacking[0])
      say(
        `${name} lacks ${lacking[0].missing
          .slice(0, 6)
          .map((m) => String.fromCodePoint(m.codePoint))
          .join(' ')} of “${lacking[0].label}”${lacking.length > 1 ? ` and letters of ${lacking.length - 1} more of your texts` : ''}.`,
      );
    if (role !== 'text') continue;
    if (set.size < LEAST_TEXT) say(`Running text of ${set.size} points is hard to read in print.`);
    const kind = lead.ownKind ?? (lead.shape && isSure(lead.shape.confidence) ? lead.shape.value : null);
    if (kind === 'handwriting') say(`${name} is handwriting, made for a few words; running text in it is hard to read.`);
    else if (kind === 'symbols') say(`${name} holds symbols and no letters for running text.`);
    else if (lead.optical === 'display' || /\b(display|poster|headline|titling)\b/i.test(name))
      say(`${name} is made for headlines; running text in it is hard to read.`);
  }
  const [head, text] = [roles.headline, roles.text];
  if (head && text && head.size <= text.size) out.push({ role: 'headline', message: 'The headline is no larger than the text.' });
  return out;
}
