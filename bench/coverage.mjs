// What a face can write: all locales and levels, warm, on one thread.
import { readFileSync } from 'node:fs';
import { judgeCoverage, openFace } from '../packages/core/dist/index.js';
import { nodeCodec } from '../packages/node/dist/index.js';

const noto = (name) => readFileSync(`/usr/share/fonts/truetype/noto/${name}-Regular.ttf`);
const median = (list) => [...list].sort((a, b) => a - b)[list.length >> 1];
const faces = {
  'Latin, few marks': readFileSync('node_modules/@expo-google-fonts/gochi-hand/400Regular/GochiHand_400Regular.ttf'),
  'Latin, Greek, Cyrillic': readFileSync('node_modules/@expo-google-fonts/literata/400Regular/Literata_400Regular.ttf'),
  'Latin, Greek, Cyrillic, 3,700 glyphs': noto('NotoSans'),
  Arabic: noto('NotoNaskhArabic'),
  Devanagari: noto('NotoSansDevanagari'),
  Khmer: noto('NotoSansKhmer'),
  Myanmar: noto('NotoSansMyanmar'),
};
for (const [name, bytes] of Object.entries(faces)) {
  for (let i = 0; i < 10; i++) judgeCoverage(openFace(bytes, nodeCodec, 0));
  const times = Array.from({ length: 40 }, () => {
    const start = performance.now();
    judgeCoverage(openFace(bytes, nodeCodec, 0));
    return performance.now() - start;
  });
  console.log(`${name}: median ${median(times).toFixed(1)} ms`);
}
