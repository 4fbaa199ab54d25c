import { findFaces, type LeadRow } from '../faces/index.js';
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { inRuns, language, writesOf, type FaceFacts, type ShapedLine } from '@orderly-glyph/core';
import type { ProofPlan } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';
import { A4, type SheetPage } from '../../platform/compute/work/page.js';
import { Workspace } from '../accounts/index.js';
import { licensesOf, ReadyTextEntity } from '../library/index.js';

/** A font opened for setting lines; widths and paths are asked for in one go. */
class Setter {
  private readonly lines = new Map<string, ShapedLine>();
  constructor(
    private readonly compute: Compute,
    private readonly sfnt: Uint8Array,
    private readonly faceIndex: number,
  ) {}

  static async open(compute: Compute, bytes: Uint8Array, faceIndex: number): Promise<Setter> {
    const plain = await compute.run('plain', [bytes, faceIndex], true);
    return new Setter(compute, plain.sfnt, plain.faceIndex);
  }

  async need(texts: readonly string[]): Promise<void> {
    const fresh = [...new Set(texts)].filter((t) => t !== '' && !this.lines.has(t));
    if (fresh.length === 0) return;
    const set = await this.compute.run('setLines', [this.sfnt, this.faceIndex, fresh], true);
    fresh.forEach((t, i) => this.lines.set(t, set[i]!));
  }

  line(text: string): { path: string; width: number; unitsPerEm: number } {
    const found = this.lines.get(text)!;
    return { path: found.path, width: found.glyphs.reduce((sum, g) => sum + g.xAdvance, 0), unitsPerEm: found.unitsPerEm };
  }
}

const MARGIN = 48;
const WIDE = A4.width - 2 * MARGIN;
const RTL = /^[^\p{L}]*[\p{Script=Arabic}\p{Script=Hebrew}\p{Script=Syriac}\p{Script=Thaana}\p{Script=Nko}]/u;

let labelFont: Promise<{ latin: Uint8Array; rest: Uint8Array }> | null = null;
/** The interface's own face sets the labels. */
function labelBytes(): Promise<{ latin: Uint8Array; rest: Uint8Array }> {
  const file = (part: string): Promise<Uint8Array> =>
    readFile(createRequire(import.meta.url).resolve(`@fontsource-variable/hanken-grotesk/files/hanken-grotesk-${part}-wght-normal.woff2`));
  labelFont ??= Promise.all([file('latin'), file('latin-ext')]).then(([latin, rest]) => ({ latin, rest }));
  return labelFont;
}

/** Characters of the latin part; everything else goes to the extended part, and what that lacks stays empty. */
const inLatin = (c: string): boolean => /^[\u0020-\u007e\u00a0-\u00ff\u2013\u2014\u2018\u2019\u201c\u201d\u2022\u2026\u20ac]$/.test(c);

interface Writer {
  pages: SheetPage[];
  y: number;
}

/** Lays a proof sheet out, page by page. @throws HttpProblem 404 when a face is not in the workspace */
export async function laySheet(db: DataSource, compute: Compute, workspaceId: string, plan: ProofPlan): Promise<SheetPage[]> {
  const leads = await findFaces(db, workspaceId, plan.faceIds);
  const licenses = await licensesOf(db, workspaceId, plan.faceIds);
  const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  const ready = await db.getRepository(ReadyTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } });
  const { latin, rest } = await labelBytes();
  const labels = { latin: await Setter.open(compute, latin, 0), rest: await Setter.open(compute, rest, 0) };
  const w: Writer = { pages: [], y: 0 };
  const soft = mix(plan.ink, plan.paper, 0.45);

  const page = (): SheetPage => w.pages[w.pages.length - 1]!;
  const fresh = (): void => {
    w.pages.push({ ...A4, paper: plan.paper, shapes: [] });
    w.y = MARGIN;
  };
  const room = (height: number): void => {
    if (w.y + height > A4.height - MARGIN - 18) fresh();
  };
  const put = (setter: Setter, text: string, size: number, x: number, y: number, color: string): number => {
    if (text === '') return 0;
    const { path, width, unitsPerEm } = setter.line(text);
    const scale = size / unitsPerEm;
    if (path !== '') page().shapes.push({ kind: 'path', path, x, y, scale, color });
    return width * scale;
  };
  const label = async (text: string, x: number, y: number, size = 8, color = soft): Promise<void> => {
    const runs =
      text.match(
        /[ -~\u00a0-\u00ff\u2013\u2014\u2018\u2019\u201c\u201d\u2022\u2026\u20ac]+|[^ -~\u00a0-\u00ff\u2013\u2014\u2018\u2019\u201c\u201d\u2022\u2026\u20ac]+/gu,
      ) ?? [];
    let at = x;
    for (const run of runs) {
      const setter = inLatin([...run][0]!) ? labels.latin : labels.rest;
      await setter.need([run]);
      at += put(setter, run, size, at, y, color);
    }
  };
  const rule = (y: number): void => void page().shapes.push({ kind: 'rule', x: MARGIN, y, width: WIDE, height: 0.5, color: soft });

  for (const lead of leads) {
    const setter = await Setter.open(compute, await getBlob(db.manager, workspaceId, lead.sha256), lead.faceIndex);
    const { has: sets } = writesOf(lead.coverage?.writes?.runs ?? [], []);
    const has = (c: string): boolean => sets(c.codePointAt(0)!);
    const drawable = (text: string): string => [...text.normalize('NFC')].filter((c) => has(c) || /^\p{M}$/u.test(c)).join('');
    fresh();
    await label(`${workspace.name} · ${plan.title}`, MARGIN, w.y);
    w.y += 12;
    rule(w.y);
    w.y += 46;
    const name = lead.familyName;
    const shown = drawable(name);
    if ([...shown].length >= [...name].length * 0.7) {
      await setter.need([shown]);
      const natural = setter.line(shown);
      const size = Math.min(44, (WIDE / (natural.width / natural.unitsPerEm)) * 0.98);
      put(setter, shown, size, MARGIN, w.y, plan.ink);
    } else await label(name, MARGIN, w.y, 28, plan.ink);
    w.y += 20;
    await label(faceLine(lead), MARGIN, w.y, 9, plan.ink);
    w.y += 12;
    await label(licenseLine(licenses.get(lead.faceId)?.[0] ?? null), MARGIN, w.y);
    w.y += 22;

    const wrapped = async (text: string, size: number, leading: number, width = WIDE, left = MARGIN): Promise<void> => {
      for (const paragraph of text.split(/\n+/)) {
        const words = drawable(paragraph).split(/\s+/).filter(Boolean);
        if (words.length === 0) continue;
        const rtl = RTL.test(paragraph);
        for (const line of await breakLines(setter, words, size, width)) {
          room(leading);
          w.y += leading;
          const set = setter.line(line);
          const drawnWidth = (set.width * size) / set.unitsPerEm;
          put(setter, line, size, rtl ? left + width - drawnWidth : left, w.y, plan.ink);
        }
      }
    };
    const heading = async (text: string): Promise<void> => {
      room(64);
      w.y += 28;
      await label(text, MARGIN, w.y);
      w.y += 4;
    };

    if (plan.parts.includes('alphabet')) {
      await heading('Alphabet');
      await wrapped(
        alphabetOf(
          lead,
          ready.map((t) => t.language),
        ),
        20,
        28,
      );
    }
    const sample = plan.text || ready[0]?.text || name;
    if (plan.parts.includes('sizes')) {
      await heading('Sizes');
      const line = drawable(sample.split('\n')[0]!);
      if (line !== '')
        for (const size of [48, 36, 28, 20, 14, 11, 9, 7]) {
          const words = line.split(/\s+/);
          const [first] = await breakLines(setter, words, size, WIDE - 34);
          room(size * 1.25);
          w.y += size * 1.25;
          await label(`${size} pt`, MARGIN, w.y);
          const set = setter.line(first!);
          put(setter, first!, size, RTL.test(line) ? A4.width - MARGIN - (set.width * size) / set.unitsPerEm : MARGIN + 34, w.y, plan.ink);
        }
    }
    if (plan.parts.includes('languages')) {
      const full = new Set(fullLanguages(lead));
      const own = ready.filter((t) => t.language !== '' && full.has(t.language));
      if (own.length > 0) {
        await heading('Languages');
        for (const t of own) {
          room(24);
          w.y += 24;
          await label(language(t.language)?.name ?? t.label, MARGIN, w.y);
          const text = drawable(t.text);
          await setter.need([text]);
          const set = setter.line(text);
          const size = Math.min(16, ((WIDE - 90) / set.width) * set.unitsPerEm);
          put(setter, text, size, RTL.test(text) ? A4.width - MARGIN - (set.width * size) / set.unitsPerEm : MARGIN + 90, w.y, plan.ink);
        }
      }
    }
    if (plan.parts.includes('paragraph') && sample.length > 0) {
      await heading('Running text, 11 and 8 points');
      const running =
        sample.length > 160
          ? sample
          : Array(Math.ceil(320 / sample.length))
              .fill(sample)
              .join('. ');
      await wrapped(running, 11, 16, WIDE * 0.8);
      w.y += 8;
      await wrapped(running, 8, 12, WIDE * 0.55);
    }
  }
  for (const [i, p] of w.pages.entries()) {
    w.pages.push(p);
    await label(`${i + 1} of ${w.pages.length - 1}`, MARGIN, A4.height - MARGIN + 6);
    w.pages.pop();
  }
  return w.pages;
}

/** Breaks words into lines no wider than asked; a word that is wider alone is cut between characters. */
async function breakLines(setter: Setter, words: readonly string[], size: number, width: number): Promise<string[]> {
  await setter.need(words);
  await setter.need(['x x', 'xx']);
  const space = setter.line('x x').width - setter.line('xx').width;
  const widthOf = (text: string): number => (setter.line(text).width * size) / setter.line(text).unitsPerEm;
  const gap = (space * size) / setter.line('xx').unitsPerEm || size * 0.25;
  const lines: string[] = [];
  let current = '';
  let used = 0;
  for (const word of words) {
    const own = widthOf(word);
    if (own > width) {
      if (current) lines.push(current);
      current = '';
      used = 0;
      const characters = [...word];
      const each = Math.max(1, Math.floor((characters.length * width * 0.95) / own));
      for (let i = 0; i < characters.length; i += each) lines.push(characters.slice(i, i + each).join(''));
      continue;
    }
    if (current !== '' && used + gap + own > width) {
      lines.push(current);
      current = '';
      used = 0;
    }
    used += (current === '' ? 0 : gap) + own;
    current = current === '' ? word : `${current} ${word}`;
  }
  if (current) lines.push(current);
  await setter.need(lines);
  return lines;
}

/** Tags of the languages a face writes in full. */
const fullLanguages = (lead: LeadRow): string[] => (lead.coverage?.languages ?? []).filter((l) => l.level === 'full').map((l) => l.tag);

/**
 * The letters of the face: the Latin alphabet where it has it, those of the workspace's own languages in other scripts, or
 * of the first language it writes, or its first characters.
 */
function alphabetOf(lead: LeadRow, own: readonly string[]): string {
  const { runs } = lead.facts;
  const has = (c: string): boolean => inRuns(runs, c.codePointAt(0)!);
  const parts: string[] = [];
  if (has('a') && has('A'))
    parts.push('A B C D E F G H I J K L M N O P Q R S T U V W X Y Z', 'a b c d e f g h i j k l m n o p q r s t u v w x y z');
  const written = fullLanguages(lead);
  const scripts = new Set(['Latn']);
  for (const tag of [...own.filter((t) => written.includes(t)), ...(parts.length === 0 ? written : [])]) {
    const l = language(tag);
    if (!l || scripts.has(l.script) || l.letters.length > 140) continue;
    scripts.add(l.script);
    const order = new Intl.Collator(tag);
    const letters = [...l.letters].map((c) => String.fromCodePoint(c)).filter((c) => !/^\p{M}$/u.test(c));
    const capital = (c: string): boolean => c !== c.toLowerCase();
    parts.push(
      ...[letters.filter(capital), letters.filter((c) => !capital(c))].map((list) => list.sort(order.compare).join(' ')).filter(Boolean),
    );
  }
  parts.push('0 1 2 3 4 5 6 7 8 9', '& ! ? . , ; : ( ) – “ ” £ € $ %');
  const text = parts.filter((p) => [...p].some((c) => c !== ' ' && has(c))).join('\n');
  return text.length > 12 ? text : firstCharacters(lead.facts).join(' ');
}

function firstCharacters({ runs }: FaceFacts): string[] {
  const out: string[] = [];
  for (let i = 0; i < runs.length && out.length < 80; i += 2)
    for (let c = runs[i]!; c <= runs[i + 1]! && out.length < 80; c++) if (c > 32) out.push(String.fromCodePoint(c));
  return out;
}

const faceLine = (lead: LeadRow): string =>
  [lead.style, lead.facts.version ?? '', lead.facts.designer ?? lead.facts.manufacturer ?? '']
    .filter(Boolean)
    .join(' · ')
    .replace(/^(.{104}).+$/u, '$1 …');

export const licenseLine = (license: { name: string; confirmed: boolean } | null): string =>
  license
    ? `License: ${license.name}${license.confirmed ? '' : ' (not confirmed)'}`.replace(/^(.{116}).+$/u, '$1 …')
    : 'License: not recorded';

/** A color between two, in sRGB. */
function mix(a: string, b: string, share: number): string {
  const part = (hex: string, i: number): number => parseInt(hex.slice(1 + 2 * i, 3 + 2 * i), 16);
  return `#${[0, 1, 2]
    .map((i) =>
      Math.round(part(a, i) * (1 - share) + part(b, i) * share)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}
