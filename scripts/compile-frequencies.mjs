// Compiles how often characters stand in running text, by language, and the widths of faces that browsers fall back on.
// node scripts/compile-frequencies.mjs FOLDER, where FOLDER holds Debian's packages manpages, manpages-XX and fonts-liberation
// unpacked, each in a folder of its name. Counts come from every other page, so that the rest can be measured on.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { nodeCodec } from '../packages/node/dist/index.js';
import { openFace } from '../packages/core/dist/font/index.js';
import { language } from '../packages/core/dist/unicode/index.js';

const folder = process.argv[2];
if (!folder) throw new Error('Usage: node scripts/compile-frequencies.mjs FOLDER');
const TAGS = { manpages: 'en', 'manpages-pt-br': 'pt' };

/** Running text of a manual page: no macros, no code, no escapes. */
export function proseOf(roff) {
  const out = [];
  let code = false;
  for (const line of roff.split('\n')) {
    if (/^\.(EX|nf|TS|in \+)/.test(line)) code = true;
    if (/^\.(EE|fi|TE|in$)/.test(line)) code = false;
    if (code || /^[.']/.test(line)) {
      if (/^\.(PP|SH|SS|TP|IP|LP)/.test(line)) out.push('');
      continue;
    }
    out.push(line);
  }
  return out
    .join('\n')
    .replace(/\\f(?:\[[^\]]*\]|\(..|.)/g, '')
    .replace(/\\\(?\[?(?:bu|lq|rq|oq|cq|dq|aq|em|en|co|ha|ti|rs|at|dg|mc|<=|>=|->)\]?/g, ' ')
    .replace(/\\[-&:|%^~ ]/g, (m) => (m === '\\-' ? '-' : ''))
    .replace(/\\./g, '')
    .split(/\n{2,}/)
    .map((p) => p.replace(/\s+/g, ' ').trim());
}

export function pagesOf(name) {
  const found = [];
  const walk = (dir) => {
    for (const e of readdirSync(dir, { withFileTypes: true })) {
      const path = join(dir, e.name);
      if (e.isDirectory()) walk(path);
      else if (e.isFile() && /\.\d\w*\.gz$/.test(e.name)) found.push(path);
    }
  };
  walk(join(folder, name, 'usr/share/man'));
  return found.sort();
}

/** Paragraphs that are prose of their language: long, few figures and signs, and not left in English. */
export function paragraphsOf(path, tag) {
  let text;
  try {
    text = gunzipSync(readFileSync(path)).toString('utf8');
  } catch {
    return [];
  }
  return proseOf(text).filter((p) => {
    if (p.length < 120 || /[\\{}<>|=_]|\/\w/.test(p)) return false;
    const words = p.toLowerCase().match(/\p{L}+/gu) ?? [];
    const english = words.filter((w) => ['the', 'of', 'and', 'is', 'to', 'that', 'with', 'this'].includes(w)).length / words.length;
    return (tag === 'en') === english > 0.08 && (p.match(/\p{L}| /gu) ?? []).length > p.length * 0.9;
  });
}

if (process.argv[1]?.endsWith('compile-frequencies.mjs')) {
  const rows = [];
  for (const name of readdirSync(folder).sort()) {
    if (!name.startsWith('manpages') || name === 'manpages-ja') continue;
    const tag = TAGS[name] ?? name.replace('manpages-', '');
    if (!language(tag)) continue;
    const counts = new Map();
    let all = 0;
    pagesOf(name).forEach((path, i) => {
      if (i % 2 !== 0) return;
      // A few of each page, so that long ones do not outweigh the others.
      for (const p of paragraphsOf(path, tag).slice(0, 6))
        for (const c of p.normalize('NFC')) {
          counts.set(c, (counts.get(c) ?? 0) + 1);
          all++;
        }
    });
    if (all < 12_000) {
      console.error(`${tag}: only ${all} characters, left out`);
      continue;
    }
    const kept = [...counts]
      .map(([c, n]) => [c, Math.round((10_000 * n) / all)])
      .filter(([, n]) => n > 0)
      .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
    rows.push([tag, kept.map(([c, n]) => `${c}${n}`).join('\u0001'), all]);
  }
  const faces = [];
  for (const [local, bold, file] of [
    ['Arial', 'Arial Bold', 'LiberationSans'],
    ['Times New Roman', 'Times New Roman Bold', 'LiberationSerif'],
    ['Courier New', 'Courier New Bold', 'LiberationMono'],
  ])
    for (const [style, name] of [
      ['Regular', local],
      ['Bold', bold],
    ]) {
      const face = openFace(
        new Uint8Array(readFileSync(join(folder, 'fonts-liberation/usr/share/fonts/truetype/liberation', `${file}-${style}.ttf`))),
        nodeCodec,
      );
      const runs = [];
      for (const c of face.codePoints) {
        if (c < 0x20 || (c > 0x52f && (c < 0x1e00 || c > 0x20bf))) continue;
        const width = face.advances.advanceWidth(face.glyphOf(c));
        const last = runs[runs.length - 1];
        if (last && last[0] + last[1].length === c) last[1].push(width);
        else runs.push([c, [width]]);
      }
      faces.push([name, face.unitsPerEm, runs.map(([c, w]) => `${c.toString(36)}:${w.map((v) => v.toString(36)).join('.')}`).join(' ')]);
    }
  const q = (v) => JSON.stringify(v);
  writeFileSync(
    new URL('../packages/core/src/webkit/data/running-text.ts', import.meta.url),
    `// Made by scripts/compile-frequencies.mjs. Characters of running text by CLDR tag, each with how many of 10,000 it is, counted in
// translated manual pages (Debian's packages manpages-*); a separator between them.
export const FREQUENCIES: Readonly<Record<string, string>> = {
${rows.map(([tag, text]) => `  ${/^\w+$/.test(tag) ? tag : q(tag)}: ${q(text)},`).join('\n')}
};

// Advances of the faces that nearly every system has, by the local name that style sheets call them: as their equals in width,
// the Liberation fonts 1.07 (SIL OFL 1.1), have them. Runs of a first code point and widths, both in base 36.
export const FALLBACK_WIDTHS: readonly { local: string; unitsPerEm: number; widths: string }[] = [
${faces.map(([local, em, widths]) => `  { local: ${q(local)}, unitsPerEm: ${em}, widths: ${q(widths)} },`).join('\n')}
];
`,
  );
  console.log(rows.map(([tag, , all]) => `${tag} ${all}`).join(', '));
}
