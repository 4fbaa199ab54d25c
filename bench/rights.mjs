// The verdict table of 2,000 faces under 300 licenses for all uses, and one text recognized among all SPDX texts, warm.
import { createRequire } from 'node:module';
import { compileLicenses, decodeEmbedding, readLicenses, USES, verdictTable } from '../packages/core/dist/index.js';

const median = (list) => [...list].sort((a, b) => a - b)[list.length >> 1];
const time = (run, times) =>
  Array.from({ length: times }, () => {
    const start = performance.now();
    run();
    return performance.now() - start;
  });
/** A small deterministic random source, so that every run weighs the same licenses. */
let state = 7;
const random = () => (state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff) / 0x7fffffff;
const pick = (list) => list[Math.floor(random() * list.length)];

const licenses = Array.from({ length: 300 }, (_, i) => ({
  id: `license-${i}`,
  name: `License ${i}`,
  kind: i % 5 === 0 ? 'open' : 'bought',
  spdxId: i % 5 === 0 ? 'OFL-1.1' : null,
  confirmed: random() < 0.9,
  uses: Object.fromEntries(USES.map((use) => [use, pick(['yes', 'ask', 'no'])])),
  startsOn: random() < 0.3 ? '2025-01-01' : null,
  endsOn: random() < 0.5 ? '2027-01-01' : null,
  noticeOn: '2026-12-01',
  limits: random() < 0.5 ? { website: 10_000, 'design-work': 5 } : {},
  counters: { website: 9_000, 'design-work': 3 },
  reservedNames: random() < 0.2 ? ['Plot'] : [],
}));
const faces = Array.from({ length: 2000 }, () => ({
  licenses: Array.from({ length: 1 + Math.floor(random() * 3) }, () => pick(licenses)),
  embedding: decodeEmbedding(pick([0, 2, 4, 8, 0x100, 0x200]), 4),
}));
verdictTable(faces, '2026-11-25');
console.log(
  `verdict table, 2,000 faces, 300 licenses, 11 uses: median ${median(time(() => verdictTable(faces, '2026-11-25'), 21)).toFixed(0)} ms`,
);

const texts = createRequire(import.meta.url)('spdx-license-list/full');
const start = performance.now();
const index = compileLicenses(Object.entries(texts).map(([spdxId, l]) => ({ spdxId, text: l.licenseText ?? '' })));
console.log(`index of ${index.templates.length} license texts: ${(performance.now() - start).toFixed(0)} ms, once a thread`);
for (const id of ['MIT', 'OFL-1.1', 'Apache-2.0', 'CC-BY-4.0', 'GPL-2.0-only', 'GPL-3.0-only']) {
  for (let i = 0; i < 5; i++) readLicenses(texts[id].licenseText, index);
  const list = time(() => readLicenses(texts[id].licenseText, index), 21);
  console.log(`recognizing ${id}: median ${median(list).toFixed(1)} ms`);
}
