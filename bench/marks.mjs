// How often the ink test of loose marks agrees with the eye: node bench/marks.mjs FOLDER
// FOLDER holds Debian's font packages unpacked, each in a folder of its name (apt-get download NAME; dpkg -x FILE FOLDER/NAME).
// marks.json: half (0 tuned on, 1 put away by package), package, file, face, letter as HarfBuzz without fallback sets it, and
// whether it read right when looked at, before the test was written.
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { openFont } from '../packages/core/dist/font/index.js';
import { nodeCodec } from '../packages/node/dist/index.js';

const folder = process.argv[2];
if (!folder) throw new Error('Usage: node bench/marks.mjs FOLDER');
const rows = JSON.parse(readFileSync(new URL('marks.json', import.meta.url), 'utf8'));
const tally = [0, 1].map(() => ({ agreed: 0, all: 0, wrongYes: [], wrongNo: [] }));
for (const [half, name, file, index, letter, label] of rows) {
  const path = join(folder, name, file);
  if (!existsSync(path)) continue;
  const face = openFont(new Uint8Array(readFileSync(path)), nodeCodec).faces[index];
  let x = 0;
  const placed = face.shaper.shape(letter.normalize('NFD')).map(({ glyph, xAdvance, xOffset, yOffset }) => {
    const at = { glyph, x: x + xOffset, y: yOffset };
    x += xAdvance;
    return at;
  });
  const says = face.setting.looksRight(
    letter,
    placed,
    placed.map(() => false),
  );
  const t = tally[half];
  t.all++;
  if (says === (label === 1)) t.agreed++;
  else (says ? t.wrongYes : t.wrongNo).push(`${letter} ${file.split('/').pop()}`);
}
for (const [half, t] of tally.entries())
  console.log(
    `${half ? 'put away' : 'tuned on'}: ${t.agreed} of ${t.all}; wrong yes: ${t.wrongYes.join(', ')}; wrong no: ${t.wrongNo.join(', ')}`,
  );
