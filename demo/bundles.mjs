import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import yazl from 'yazl';
import { drawnFace } from './faces.mjs';
import { MAKER } from './rights.mjs';
import { PICTURE, README, RECEIPT } from './sample.mjs';

const MTIME = new Date('2026-04-17T09:00:00Z');

/** @param entries [path in the ZIP, bytes] */
export async function zip(entries) {
  const file = new yazl.ZipFile();
  for (const [path, bytes] of entries) file.addBuffer(Buffer.from(bytes), path, { mtime: MTIME });
  file.end();
  const parts = [];
  for await (const part of file.outputStream) parts.push(part);
  return Buffer.concat(parts);
}

/** A family's package as the ZIP somebody would have downloaded. */
export function bundleOf(root, { package: name, pick, license, as }) {
  const dir = join(root, 'node_modules', name);
  const entries = [];
  for (const style of readdirSync(dir)) {
    // Older packages keep their files side by side.
    if (/_\d{3}\w+\.ttf$/.test(style)) entries.push([style, readFileSync(join(dir, style))]);
    if (!/^\d{3}/.test(style) || !pick.test(style) || !statSync(join(dir, style)).isDirectory()) continue;
    for (const file of readdirSync(join(dir, style)))
      if (file.endsWith('.ttf')) entries.push([`static/${file}`, readFileSync(join(dir, style, file))]);
  }
  if (license) entries.push([as, readFileSync(join(dir, license))]);
  return zip(entries);
}

/** Faces drawn by the sample with the papers that came along. */
export function paidBundle({ faces, papers }) {
  return zip([
    ...faces.map((f) => [
      `${f.family.replace(/ /g, '')}-${f.style ?? 'Regular'}.ttf`,
      drawnFace({ ...f, maker: MAKER, terms: 'See the papers that came with it.' }),
    ]),
    ...Object.entries(papers),
  ]);
}

/** The bundle that waits for a newcomer: OTF and, in a ZIP of its own, TTF of the same faces, and every usual leftover. */
export async function waitingBundle(root) {
  const dir = join(root, 'node_modules/source-serif');
  const read = (path) => readFileSync(join(dir, path));
  const styles = ['Regular', 'It', 'Semibold', 'Bold'];
  const older = await zip(styles.map((s) => [`TTF/SourceSerif4-${s}.ttf`, read(`TTF/SourceSerif4-${s}.ttf`)]));
  return zip([
    ...styles.map((s) => [`Text faces/OTF/SourceSerif4-${s}.otf`, read(`OTF/SourceSerif4-${s}.otf`)]),
    ['Text faces/For older programs.zip', older],
    ['Text faces/LICENSE.md', read('LICENSE.md')],
    ['Text faces/Read me first.txt', README],
    ['Text faces/receipt.txt', RECEIPT],
    ['Text faces/sample.svg', PICTURE],
    ['Text faces/OTF/SourceSerif4-Light.otf', read('OTF/SourceSerif4-Light.otf').subarray(0, 90_000)],
    ['Text faces/OTF/SourceSerif4-Black.otf', '<!doctype html><title>Moved</title><p>This file has moved.'],
    ['Text faces/.DS_Store', Buffer.concat([Buffer.from([0, 0, 0, 1]), Buffer.from('Bud1')])],
    ['__MACOSX/Text faces/OTF/._SourceSerif4-Regular.otf', Buffer.from([0, 5, 22, 7, 0, 2, 0, 0])],
  ]);
}
