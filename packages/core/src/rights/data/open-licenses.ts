import { USES, type Answer, type Use } from '../uses.js';

/** What an open license says on each use, with the sentence it rests on, in the license's own words. */
export interface OpenLicense {
  spdxId: string;
  name: string;
  /** Texts that are the same license under a more exact identifier. */
  alsoKnownAs: readonly string[];
  uses: Readonly<Record<Use, { answer: Answer; quote: string }>>;
  duties: readonly string[];
  /** A short phrase by which a font's own license field may name it. */
  mentions: readonly RegExp[];
}

const OFL_USE =
  'Permission is hereby granted, free of charge, to any person obtaining a copy of the Font Software, to use, study, copy, merge, embed, modify, redistribute, and sell modified and unmodified copies of the Font Software';
const OFL_DOCUMENT =
  'The requirement for fonts to remain under this license does not apply to any document created using the fonts or their derivatives.';

const OFL_BUNDLE = 'Original or Modified Versions of the Font Software may be bundled, redistributed and/or sold with any software';

const oflDuties = [
  'Pass the license text along with the font file.',
  'Do not sell the font by itself.',
  'A changed version may not carry a reserved font name.',
];

const all = (quote: string, others: Partial<Record<Use, string>> = {}): OpenLicense['uses'] =>
  Object.fromEntries(USES.map((use) => [use, { answer: 'yes', quote: others[use] ?? quote }])) as OpenLicense['uses'];

const oflUses = all(OFL_USE, { 'printed-goods': OFL_DOCUMENT, documents: OFL_DOCUMENT, app: OFL_BUNDLE, 'passing-on': OFL_BUNDLE });

/** Open licenses that fonts are commonly released under. Quotes are from the SPDX texts of each license. */
export const OPEN_LICENSES: readonly OpenLicense[] = [
  {
    spdxId: 'OFL-1.1',
    name: 'SIL Open Font License 1.1',
    alsoKnownAs: ['OFL-1.1-RFN', 'OFL-1.1-no-RFN'],
    uses: oflUses,
    duties: oflDuties,
    mentions: [/open font license,?\s*(version|v\.?)?\s*1\.1/i, /scripts\.sil\.org\/OFL/i, /openfontlicense\.org/i],
  },
  {
    spdxId: 'OFL-1.0',
    name: 'SIL Open Font License 1.0',
    alsoKnownAs: ['OFL-1.0-RFN', 'OFL-1.0-no-RFN'],
    uses: all(OFL_USE),
    duties: oflDuties,
    mentions: [/open font license,?\s*(version|v\.?)?\s*1\.0/i],
  },
  {
    spdxId: 'Apache-2.0',
    name: 'Apache License 2.0',
    alsoKnownAs: [],
    uses: all(
      'each Contributor hereby grants to You a perpetual, worldwide, non-exclusive, no-charge, royalty-free, irrevocable copyright license to reproduce, prepare Derivative Works of, publicly display, publicly perform, sublicense, and distribute the Work',
    ),
    duties: ['Pass the license text and notices along with the font file.', 'Say in changed files that you changed them.'],
    mentions: [/apache license,?\s*(version)?\s*2\.0/i, /apache\.org\/licenses\/LICENSE-2\.0/i],
  },
  {
    spdxId: 'Ubuntu-font-1.0',
    name: 'Ubuntu Font Licence 1.0',
    alsoKnownAs: [],
    uses: all(
      'Permission is hereby granted, free of charge, to any person obtaining a copy of the Font Software, to propagate the Font Software',
    ),
    duties: ['Pass the license text along with the font file.', 'A changed version needs another name as the license sets out.'],
    mentions: [/ubuntu font licen[cs]e/i],
  },
  {
    spdxId: 'MIT',
    name: 'MIT License',
    alsoKnownAs: [],
    uses: all(
      'to deal in the Software without restriction, including without limitation the rights to use, copy, modify, merge, publish, distribute, sublicense, and/or sell copies of the Software',
    ),
    duties: ['Pass the copyright and license text along with the font file.'],
    mentions: [/\bMIT license\b/i],
  },
  {
    spdxId: 'CC0-1.0',
    name: 'Creative Commons Zero 1.0',
    alsoKnownAs: [],
    uses: all(
      'Affirmer hereby overtly, fully, permanently, irrevocably and unconditionally waives, abandons, and surrenders all of Affirmer’s Copyright and Related Rights',
    ),
    duties: [],
    mentions: [/\bCC0\b/, /creativecommons\.org\/publicdomain\/zero/i],
  },
  {
    spdxId: 'Bitstream-Vera',
    name: 'Bitstream Vera license',
    alsoKnownAs: [],
    uses: all(
      'to reproduce and distribute the Font Software, including without limitation the rights to use, copy, merge, publish, distribute, and/or sell copies of the Font Software',
    ),
    duties: [
      'Pass the copyright and license text along with the font file.',
      'A changed version needs another name.',
      'Do not sell the font by itself.',
    ],
    mentions: [],
  },
];

export function openLicense(spdxId: string): OpenLicense | null {
  return OPEN_LICENSES.find((l) => l.spdxId === spdxId || l.alsoKnownAs.includes(spdxId)) ?? null;
}
