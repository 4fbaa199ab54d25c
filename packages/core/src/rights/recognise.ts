import { OPEN_LICENSES, openLicense } from './data/open-licenses.js';

/** A known license text, ready to be compared with. */
export interface LicenseTemplate {
  spdxId: string;
  shingles: Set<string>;
}

export interface Recognition {
  spdxId: string;
  name: string;
  /** Share of the known text found, 0 to 1; 1 for every word in its order. */
  score: number;
  /** 'text': the license's text is there; 'mention': only its name or address. */
  basis: 'text' | 'mention';
  reservedNames: string[];
}

const SHINGLE = 5;
/** Below this share a text is not called recognised; a changed clause costs more than this. */
const THRESHOLD = 0.93;

/** Words of a text in order, without case, punctuation, quotes and line breaks, so that re-wrapping changes nothing. */
export function words(text: string): string[] {
  return (
    text
      .normalize('NFKC')
      .toLowerCase()
      .replace(/[’'‘`]/g, '')
      .match(/[\p{L}\p{N}]+/gu) ?? []
  );
}

function shingles(list: readonly string[]): Set<string> {
  const out = new Set<string>();
  for (let i = 0; i + SHINGLE <= list.length; i++) out.add(list.slice(i, i + SHINGLE).join(' '));
  return out;
}

/** Makes templates from license texts, such as those of the SPDX License List; placeholders in <...> are left out. */
export function compileTemplates(texts: readonly { spdxId: string; text: string }[]): LicenseTemplate[] {
  return texts.map(({ spdxId, text }) => {
    const out = new Set<string>();
    for (const part of text.split(/<[^>\n]{1,60}>/)) for (const s of shingles(words(part))) out.add(s);
    return { spdxId, shingles: out };
  });
}

/**
 * Recognises a known license in a text by the share of the license's five-word runs that the text holds, so that
 * surrounding prose and a filled-in copyright line do no harm. Of several, the longest full match wins.
 * Null when nothing is close enough: unknown stays unknown.
 */
export function recogniseText(text: string, templates: readonly LicenseTemplate[]): Recognition | null {
  const found = shingles(words(text));
  let best: { template: LicenseTemplate; score: number; hits: number } | null = null;
  for (const template of templates) {
    if (template.shingles.size < 20) continue;
    let hits = 0;
    for (const s of template.shingles) if (found.has(s)) hits++;
    const score = hits / template.shingles.size;
    if (score >= THRESHOLD && (best === null || hits > best.hits || (hits === best.hits && score > best.score)))
      best = { template, score, hits };
  }
  if (!best) return null;
  const known = openLicense(best.template.spdxId);
  return {
    spdxId: known?.spdxId ?? best.template.spdxId,
    name: known?.name ?? best.template.spdxId,
    score: best.score,
    basis: 'text',
    reservedNames: reservedNames(text),
  };
}

/** Recognises a license by how a font's own license field or address names it; weaker than the text itself. */
export function recogniseMention(fields: readonly (string | null)[]): Recognition | null {
  const text = fields.filter((f) => f !== null).join('\n');
  for (const license of OPEN_LICENSES)
    if (license.mentions.some((pattern) => pattern.test(text)))
      return { spdxId: license.spdxId, name: license.name, score: 1, basis: 'mention', reservedNames: reservedNames(text) };
  return null;
}

/** Names that a changed version may not carry, from a copyright line. Source: OFL 1.1, definitions and section 3. */
export function reservedNames(text: string): string[] {
  const names = new Set<string>();
  for (const match of text.matchAll(/with\s+(?:the\s+)?Reserved\s+Font\s+Names?:?\s+([^\n]{1,200})/gi)) {
    const rest = match[1]!;
    const quoted = [...rest.matchAll(/["'“‘”]([^"'“”‘’]{1,60})["'”’]/g)].map((m) => m[1]!.trim());
    const found = quoted.length > 0 ? quoted : rest.split(/\.\s|\.$|\bCopyright\b|\(c\)/i)[0]!.split(/,| and /);
    for (const name of found) {
      const clean = name.trim().replace(/[.,;]+$/, '');
      // The license text itself speaks of <Reserved Font Name> in its pattern line.
      if (clean && !/reserved font name|^<|\.\.\./i.test(clean)) names.add(clean);
    }
  }
  return [...names];
}
