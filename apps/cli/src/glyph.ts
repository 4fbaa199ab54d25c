#!/usr/bin/env node
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import {
  compileLicenses,
  describeLetters,
  FontError,
  formatRuns,
  COVERAGE,
  FACTS,
  KIND,
  inspect as inspectFile,
  valueOf,
  likenessOf,
  rankAlike,
  readFacts,
  openFont,
  readLetters,
  offeredAnswers,
  readFileMentions,
  readText,
  reservedNames,
  USES,
  verdict,
  type Coverage,
  type FaceFacts,
  type KindJudgement,
  type LicenseRecord,
  type LicenseIndex,
  type Likeness,
  type TermsPassage,
  type TextReading,
} from '@orderly-glyph/core';
import { convert, CONVERT_USAGE } from './convert.js';
import { computer, COMPUTER_USAGE } from './computer.js';
import { preflight, PREFLIGHT_USAGE } from './preflight.js';
import { icons, ICONS_USAGE } from './icons.js';
import { webkit, WEBKIT_USAGE } from './webkit.js';
import { WrongUse } from './wrong-use.js';
import { characterNames, documentKind, nodeCodec, readDocument, sortBundles } from '@orderly-glyph/node';

const USAGE = `glyph inspect FILE... [--json]
  What each font file is: names, metrics, characters, permissions, faults.
glyph check --text FILE FONT... [--json]
  Which characters of a text each face lacks.
glyph alike FONT --among FONT... [--json]
  Which of some faces look most like one, nearest first, with scores from 1 (the same letters) towards 0.
glyph rights FILE... [--terms TEXTFILE...] [--json]
  What each face may be used for (texts: plain, HTML, RTF, PDF, DOCX, e-mail): the license they are recognized as, reserved names, the embedding permission in the
  file, the sentences of free-form terms beside each use, and the verdict for each use under the recognized license.
glyph sort ZIP|FOLDER|FILE... [--json]
  What bringing them in would make of each file, and which texts count for which families; nothing is kept.
${CONVERT_USAGE}${WEBKIT_USAGE}${ICONS_USAGE}${PREFLIGHT_USAGE}${COMPUTER_USAGE}Exit: 0 all done, 1 a file was refused, 2 wrong use.
`;

/** "U+1EA1", or several joined by a space for a letter with a mark of its own. */
const codePointsOf = (letter: string): string =>
  [...letter].map((c) => `U+${c.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`).join(' ');

/** A face as `inspect` prints it. Lengths in font units. */
function printedFace(face: FaceFacts, coverage: Coverage | null, kind: KindJudgement | null): object {
  return {
    index: face.index,
    family: face.family,
    subfamily: face.subfamily,
    typographicFamily: face.typographicFamily,
    typographicSubfamily: face.typographicSubfamily,
    fullName: face.fullName,
    postScriptName: face.postScriptName,
    version: face.version,
    vendor: face.vendor,
    weightClass: face.weightClass,
    widthClass: face.widthClass,
    italic: face.italic,
    monospaced: face.monospaced,
    outlines: face.outlines,
    glyphCount: face.glyphCount,
    unitsPerEm: face.unitsPerEm,
    ascender: face.ascender,
    descender: face.descender,
    lineGap: face.lineGap,
    xHeight: face.xHeight,
    capHeight: face.capHeight,
    heightsMeasured: face.heightsMeasured,
    codePoints: face.codePoints,
    ranges: formatRuns(face.runs),
    embedding: { level: face.embedding.level, noSubsetting: face.embedding.noSubsetting, bitmapOnly: face.embedding.bitmapOnly },
    color: face.color,
    axes: face.axes.map(({ tag, min, default: standard, max, name }) => ({ tag, min, default: standard, max, name })),
    instances: face.instances,
    features: face.features,
    layoutScripts: face.layoutScripts,
    ...(kind ? { kind: { value: kind.value, confidence: kind.confidence } } : {}),
    ...(coverage
      ? {
          scripts: coverage.scripts,
          languages: {
            full: coverage.languages.filter((l) => l.level === 'full').map((l) => l.tag),
            near: coverage.languages
              .filter((l) => l.level === 'near')
              .map((l) => ({ language: l.tag, missing: l.missing.map(codePointsOf), browsersOnly: l.browsersOnly.map(codePointsOf) })),
            complete: coverage.languages.filter((l) => l.complete?.comesOut).map((l) => l.tag),
          },
        }
      : {}),
  };
}

interface Inspected {
  path: string;
  sha256: string | null;
  bytes: number | null;
  format: string | null;
  faces: object[];
  findings: { code: string; message: string }[];
  refused: { code: string; message: string } | null;
}

/** What is printed of a face. */
const PRINTED = [FACTS.id, COVERAGE.id, KIND.id];

async function inspectOne(path: string): Promise<Inspected> {
  const result: Inspected = { path, sha256: null, bytes: null, format: null, faces: [], findings: [], refused: null };
  let bytes: Uint8Array;
  try {
    bytes = await readFile(path);
  } catch (error) {
    return {
      ...result,
      refused: { code: 'unreadable', message: `The file cannot be opened (${(error as NodeJS.ErrnoException).code ?? 'unknown reason'}).` },
    };
  }
  result.sha256 = createHash('sha256').update(bytes).digest('hex');
  result.bytes = bytes.length;
  try {
    const { format, faces } = inspectFile(bytes, nodeCodec, { fileName: basename(path) }, PRINTED);
    result.format = format;
    for (const values of faces) {
      const face = valueOf(values, FACTS)!;
      const where = faces.length > 1 ? `Face ${face.index}: ` : '';
      for (const { code, message } of face.findings) result.findings.push({ code, message: where + message });
      result.faces.push(printedFace(face, valueOf(values, COVERAGE), valueOf(values, KIND)));
    }
  } catch (error) {
    if (!(error instanceof FontError)) throw error;
    result.refused = { code: error.code, message: error.message };
  }
  return result;
}

function printPlain(files: Inspected[]): void {
  for (const file of files) {
    process.stdout.write(`${file.path}\n`);
    if (file.refused) process.stdout.write(`  refused: ${file.refused.message}\n`);
    for (const face of file.faces as {
      family: string | null;
      subfamily: string | null;
      version: string | null;
      codePoints: number;
      glyphCount: number;
      embedding: { level: string };
    }[])
      process.stdout.write(
        `  ${face.family ?? '(no name)'} ${face.subfamily ?? ''}, ${face.version ?? 'no version'}: ${face.codePoints} characters, ${face.glyphCount} glyphs, embedding ${face.embedding.level}\n`,
      );
    for (const finding of file.findings) process.stdout.write(`  - ${finding.message}\n`);
  }
}

async function inspect(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { json: { type: 'boolean' } } });
  if (positionals.length === 0) throw new WrongUse('inspect needs at least one file.');
  const files: Inspected[] = [];
  for (const path of positionals) files.push(await inspectOne(path));
  if (values.json) process.stdout.write(`${JSON.stringify({ files }, null, 2)}\n`);
  else printPlain(files);
  return files.some((f) => f.refused) ? 1 : 0;
}

async function check(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { text: { type: 'string' }, json: { type: 'boolean' } },
  });
  if (!values.text || positionals.length === 0) throw new WrongUse('check needs --text FILE and at least one font.');
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(await readFile(values.text));
  } catch {
    process.stderr.write(`glyph: ${values.text} cannot be read as UTF-8 text.\n`);
    return 1;
  }
  const nameOf = await characterNames();
  const fonts: {
    path: string;
    index: number | null;
    missing: { codePoint: string; name: string; count: number }[];
    refused?: { code: string; message: string };
  }[] = [];
  for (const path of positionals) {
    const inspected = await inspectOne(path);
    if (inspected.refused) {
      fonts.push({ path, index: null, missing: [], refused: inspected.refused });
      continue;
    }
    const bytes = new Uint8Array(await readFile(path));
    for (const face of openFont(bytes, nodeCodec).faces) {
      fonts.push({
        path,
        index: face.index,
        missing: face.writes(text).map(({ codePoint, count }) => ({
          codePoint: codePointsOf(String.fromCodePoint(codePoint)),
          name: nameOf(codePoint),
          count,
        })),
      });
    }
  }
  if (values.json) process.stdout.write(`${JSON.stringify({ fonts }, null, 2)}\n`);
  else
    for (const font of fonts) {
      const list = font.missing.map((m) => `  ${m.codePoint} ${m.name}, ${m.count} times\n`).join('');
      process.stdout.write(
        `${font.path}${font.index ? ` [${font.index}]` : ''}: ${font.refused ? font.refused.message : font.missing.length === 0 ? 'has it all' : `${font.missing.length} missing`}\n${list}`,
      );
    }
  return fonts.some((f) => f.refused) ? 1 : 0;
}

async function alike(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { among: { type: 'string', multiple: true }, json: { type: 'boolean' } },
  });
  // --among is followed by any number of fonts: what stands after it counts as among as well.
  const [font, ...more] = positionals;
  const candidates = [...(values.among ?? []), ...more];
  if (!font || candidates.length === 0) throw new WrongUse('alike needs a font and, after --among, at least one to compare it with.');
  const refused: { path: string; message: string }[] = [];
  const placeOf = async (path: string): Promise<{ path: string; index: number; likeness: Likeness }[]> => {
    try {
      return openFont(await readFile(path), nodeCodec).faces.flatMap((face, index) => {
        const likeness = likenessOf(describeLetters(readLetters(face)));
        if (!likeness) refused.push({ path, message: 'It has too few Latin letters to be compared by them.' });
        return likeness ? [{ path, index, likeness }] : [];
      });
    } catch (error) {
      const code = (error as NodeJS.ErrnoException).code;
      refused.push({
        path,
        message: error instanceof FontError ? error.message : `The file cannot be opened (${code ?? 'unknown reason'}).`,
      });
      return [];
    }
  };
  const [own] = await placeOf(font);
  if (!own) {
    process.stderr.write(`glyph: ${font}: ${refused[0]!.message}\n`);
    return 1;
  }
  const places = (await Promise.all(candidates.map(placeOf))).flat();
  const ranked = rankAlike(
    own.likeness,
    places.map((p) => ({ item: p, likeness: p.likeness })),
  ).map(({ item, score }) => ({ path: item.path, index: item.index, score }));
  if (values.json) process.stdout.write(`${JSON.stringify({ font, alike: ranked, refused }, null, 2)}\n`);
  else {
    for (const r of ranked) process.stdout.write(`${r.score.toFixed(3)}  ${r.path}${r.index ? ` [${r.index}]` : ''}\n`);
    for (const r of refused) process.stderr.write(`glyph: ${r.path}: ${r.message}\n`);
  }
  return refused.length > 0 ? 1 : 0;
}

/** Known license texts, ready to be compared with. */
function knownLicenses(): LicenseIndex {
  const list = createRequire(import.meta.url)('spdx-license-list/full') as Record<string, { licenseText?: string }>;
  return compileLicenses(Object.entries(list).map(([spdxId, license]) => ({ spdxId, text: license.licenseText ?? '' })));
}

async function sort(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { json: { type: 'boolean' } } });
  if (positionals.length === 0) throw new WrongUse('sort needs at least one ZIP, folder or file.');
  const here: string[] = [];
  for (const path of positionals)
    if (existsSync(path)) here.push(path);
    else process.stderr.write(`glyph: ${path}: There is nothing of that name. It was passed over.\n`);
  const index = knownLicenses();
  const sorted = await sortBundles(here, (text) => readText(text, index));
  if (values.json) process.stdout.write(`${JSON.stringify(sorted, null, 2)}\n`);
  else {
    for (const { path, outcome, reason, family, style } of sorted.items)
      process.stdout.write(`${path}: ${outcome}${family ? `, ${family} ${style}` : ''}${reason ? `. ${reason}` : ''}\n`);
    for (const { path, license, kind, covers, leavesOut } of sorted.texts) {
      process.stdout.write(`${path}: ${kind}${license ? `, ${license}` : ''}; counts for ${covers.join(', ') || 'no family'}\n`);
      for (const { family, why } of leavesOut) process.stdout.write(`  not for ${family}: ${why}\n`);
    }
  }
  return here.length < positionals.length || sorted.items.some((i) => i.outcome === 'refused') ? 1 : 0;
}

async function rights(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { terms: { type: 'string', multiple: true }, json: { type: 'boolean' } },
  });
  if (positionals.length === 0) throw new WrongUse('rights needs at least one font file.');
  let failed = false;
  const texts: { path: string; read: TextReading }[] = [];
  const index = knownLicenses();
  const pass = (path: string, why: string): void => {
    process.stderr.write(`glyph: ${path}: ${why} It was passed over.\n`);
    failed = true;
  };
  for (const path of values.terms ?? []) {
    let bytes: Uint8Array;
    try {
      bytes = new Uint8Array(await readFile(path));
    } catch (error) {
      pass(path, `The file cannot be opened (${(error as NodeJS.ErrnoException).code ?? 'unknown reason'}).`);
      continue;
    }
    const kind = documentKind(bytes);
    const read = kind ? await readDocument(bytes, kind) : { text: null, unread: 'It is no text or document.' };
    if (read.text === null) {
      pass(path, read.unread!.replace(/^It is kept, and /, 'It was '));
      continue;
    }
    texts.push({ path, read: readText(read.text, index) });
  }
  const known = texts.flatMap((t) => t.read.recognised);
  const byText = known[0] ?? null;
  const told = texts.flatMap(({ path, read }) => (read.reading ? [{ terms: path, reading: read.reading }] : []));
  const mentions = texts.flatMap(({ path, read }) => read.mentions.map((m) => ({ terms: path, ...m })));
  const near = texts.flatMap(({ path, read: { near: n } }) =>
    n ? [{ terms: path, spdxId: n.spdxId, score: n.score, differences: n.differences }] : [],
  );
  // Words around a license that take something back leave that use open, and words that deny it leave all open.
  const doubt = texts.map((t) => t.read.doubt).find((d) => d !== null) ?? (known.length > 1 ? 'The texts hold several licenses.' : null);
  const narrowed = texts.flatMap(({ read }) => read.narrowing.map((n) => n.use));
  const faces: object[] = [];
  for (const path of positionals) {
    const inspected = await inspectOne(path);
    if (inspected.refused) {
      failed = true;
      faces.push({ path, index: null, refused: inspected.refused });
      continue;
    }
    for (const face of readFacts(await readFile(path), nodeCodec).faces) {
      // Some fonts carry the whole text in their license field; others their own terms, or only name a license.
      const inFile = face.license ? readText(face.license, index) : null;
      const named = readFileMentions(face);
      const text = byText ?? inFile?.recognised[0] ?? null;
      const mention = text ? null : (named.find((m) => m.grants) ?? named[0] ?? null);
      const found = text ?? mention;
      const answers = byText
        ? offeredAnswers(byText, { doubt, narrowed })
        : text
          ? offeredAnswers(text, { doubt: inFile!.doubt, narrowed: inFile!.narrowing.map((n) => n.use) })
          : mention
            ? offeredAnswers(mention)
            : {};
      if (!text && inFile?.reading) told.push({ terms: `${path} (name ID 13)`, reading: inFile.reading });
      const names = [...new Set([...(found?.reservedNames ?? []), ...reservedNames(face.copyright ?? '')])];
      // The verdict a person gets who confirms what was recognized; without that every use is a question.
      const record: LicenseRecord[] =
        found && Object.keys(answers).length > 0
          ? [
              {
                id: found.spdxId!,
                name: found.name,
                kind: 'open',
                spdxId: found.spdxId,
                confirmed: true,
                uses: Object.fromEntries(Object.entries(answers).map(([use, a]) => [use, a.answer])),
                startsOn: null,
                endsOn: null,
                reservedNames: names,
              },
            ]
          : [];
      faces.push({
        path,
        index: face.index,
        family: face.typographicFamily ?? face.family,
        license: found
          ? {
              spdxId: found.spdxId,
              name: found.name,
              score: text?.score ?? 1,
              basis: text ? 'text' : 'mention',
              differences: text?.differences ?? [],
              doubt: byText ? doubt : (mention?.doubt ?? inFile?.doubt ?? null),
            }
          : null,
        reservedNames: names,
        embedding: { level: face.embedding.level, noSubsetting: face.embedding.noSubsetting, bitmapOnly: face.embedding.bitmapOnly },
        verdicts: Object.fromEntries(
          USES.map((use) => {
            const { answer, reasons, duties } = verdict(use, record, face.embedding, new Date().toISOString().slice(0, 10));
            return [use, { answer, reasons, duties }];
          }),
        ),
      });
    }
  }
  const inContext = ({ sentence, context }: TermsPassage): string => (context ? `${context} ${sentence}` : sentence);
  const passages = told.flatMap(({ terms, reading }) =>
    reading.passages.map(({ use, sentences }) => ({ terms, use, sentences: sentences.map(inContext) })),
  );
  const general = told.flatMap(({ reading }) => reading.general.map(inContext));
  const also = told.flatMap(({ reading }) => reading.also.map(inContext));
  const suggestions = told.flatMap(({ terms, reading }) => reading.suggestions.map((x) => ({ terms, ...x })));
  const limits = told.flatMap(({ terms, reading }) => reading.limits.map((x) => ({ terms, ...x })));
  if (values.json)
    process.stdout.write(`${JSON.stringify({ faces, near, mentions, general, passages, also, suggestions, limits }, null, 2)}\n`);
  else {
    for (const f of faces as { path: string; license?: { name: string } | null; verdicts?: Record<string, { answer: string }> }[])
      process.stdout.write(
        `${f.path}: ${f.license?.name ?? 'no license recognized'}\n${Object.entries(f.verdicts ?? {})
          .map(([use, v]) => `  ${use}: ${v.answer}\n`)
          .join('')}`,
      );
    for (const n of near)
      process.stdout.write(
        `${n.terms} resembles ${n.spdxId} (${(n.score * 100).toFixed(1)}%), and differs in ${n.differences.length} passages\n`,
      );
    for (const m of mentions) process.stdout.write(`${m.terms} names the ${m.name}${m.doubt ? `. ${m.doubt}` : ''}\n`);
    for (const sentence of general) process.stdout.write(`above all uses: “${sentence}”\n`);
    for (const p of passages) for (const sentence of p.sentences) process.stdout.write(`${p.use}: “${sentence}”\n`);
    for (const sentence of also) process.stdout.write(`also read: “${sentence}”\n`);
    for (const s of suggestions) process.stdout.write(`perhaps ${s.use}: ${s.answer}. “${s.sentence}”\n`);
  }
  return failed ? 1 : 0;
}

async function main(): Promise<number> {
  const [command, ...args] = process.argv.slice(2);
  try {
    if (command === 'inspect') return await inspect(args);
    if (command === 'check') return await check(args);
    if (command === 'alike') return await alike(args);
    if (command === 'rights') return await rights(args);
    if (command === 'sort') return await sort(args);
    if (command === 'convert') return await convert(args);
    if (command === 'webkit') return await webkit(args);
    if (command === 'icons') return await icons(args);
    if (command === 'preflight') return await preflight(args);
    if (command === 'computer') return await computer(args);
    if (command === '--help' || command === 'help') {
      process.stdout.write(USAGE);
      return 0;
    }
    throw new WrongUse(command ? `There is no command “${command}”.` : 'Say what to do.');
  } catch (error) {
    const wrong = error instanceof WrongUse || (error as { code?: string }).code?.startsWith('ERR_PARSE_ARGS');
    if (!wrong) throw error;
    process.stderr.write(`glyph: ${(error as Error).message}\n${USAGE}`);
    return 2;
  }
}

process.exitCode = await main();
