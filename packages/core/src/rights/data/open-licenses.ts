import { USES, type Answer, type Use } from '../uses.js';

/**
 * What an open license says on each use, with the sentence it rests on, in the license's own words, and where in the license
 * that stands. Every record was read twice, clause by clause, from the text.
 */
export interface OpenLicense {
  spdxId: string;
  name: string;
  /** 'free' where a condition forbids part of what a business does. */
  kind: 'open' | 'free';
  /** Texts that are the same license under a more exact identifier. */
  alsoKnownAs: readonly string[];
  uses: Readonly<Record<Use, { answer: Answer; quote: string; clause: string }>>;
  duties: readonly string[];
}

/** Words of a license and where in it they stand. */
type Words = readonly [clause: string, quote: string];
type WordsOn = Partial<Record<Use, Words>>;

const OFL_USE: Words = [
  'Permission',
  'Permission is hereby granted, free of charge, to any person obtaining a copy of the Font Software, to use, study, copy, merge, embed, modify, redistribute, and sell modified and unmodified copies of the Font Software',
];
const OFL_DOCUMENT: Words = [
  'Condition 5',
  'The requirement for fonts to remain under this license does not apply to any document created using the Font Software.',
];
const OFL_BUNDLE: Words = [
  'Condition 2',
  'Original or Modified Versions of the Font Software may be bundled, redistributed and/or sold with any software',
];
/** Version 1.0 makes no exception for documents that hold the font. */
const OFL10_DOCUMENT: Words = [
  'Condition 5',
  'The Font Software, modified or unmodified, in part or in whole, must be distributed using this license, and may not be distributed under any other license.',
];
const OFL10_BUNDLE: Words = [
  'Condition 2',
  'Standard or Modified Versions of the Font Software may be bundled, redistributed and sold with any software',
];

const oflDuties = [
  'Pass the license text along with the font file.',
  'Do not sell the font by itself.',
  'A changed version may not carry a reserved font name.',
];

const says = (answer: Answer, [clause, quote]: Words): OpenLicense['uses'][Use] => ({ answer, quote, clause });
const all = (words: Words, others: WordsOn = {}): OpenLicense['uses'] =>
  Object.fromEntries(USES.map((use) => [use, says('yes', others[use] ?? words)])) as OpenLicense['uses'];

const oflUses = all(OFL_USE, { 'printed-goods': OFL_DOCUMENT, documents: OFL_DOCUMENT, app: OFL_BUNDLE, 'passing-on': OFL_BUNDLE });

/** The licenses of Creative Commons, which were written for works of any kind. Version 4.0 unless said otherwise. */
const BY_GRANT: Words = ['Section 2(a)(1)(A)', 'reproduce and Share the Licensed Material, in whole or in part; and'];
const BY_CHANGE: Words = ['Section 2(a)(1)(B)', 'produce, reproduce, and Share Adapted Material.'];
const BY3_GRANT: Words = ['Section 3(c)', 'to Distribute and Publicly Perform the Work including as incorporated in Collections'];
const BY3_CHANGE: Words = ['Section 3(b)', 'to create and Reproduce Adaptations provided that any such Adaptation'];
const NC_GRANT: Words = [
  'Section 2(a)(1)(A)',
  'reproduce and Share the Licensed Material, in whole or in part, for NonCommercial purposes only; and',
];
const NC_CHANGE: Words = ['Section 2(a)(1)(B)', 'produce, reproduce, and Share Adapted Material for NonCommercial purposes only.'];
const ND_CHANGE: Words = ['Section 2(a)(1)(B)', 'produce and reproduce, but not Share, Adapted Material'];
/** 4.0, section 2(a)(5)(C), and 3.0, section 4(a): programs and stores that lock what they hold run against it. */
const BY_MEASURES: Words = [
  'Section 2(a)(5), no downstream restrictions',
  'You may not offer or impose any additional or different terms or conditions on, or apply any Effective Technological Measures to, the Licensed Material if doing so restricts exercise of the Licensed Rights by any recipient of the Licensed Material.',
];
const BY3_MEASURES: Words = [
  'Section 4(a)',
  'You may not impose any effective technological measures on the Work that restrict the ability of a recipient of the Work from You to exercise the rights granted to that recipient under the terms of the License.',
];
/** 4.0, section 3(a)(1), and 3.0, section 4(b): a mark that stands alone can carry no credit. */
const BY_CREDITED: Words = ['Section 3(a)(1)(A)', 'retain the following if it is supplied by the Licensor with the Licensed Material'];
const BY3_CREDITED: Words = [
  'Section 4(b)',
  'keep intact all copyright notices for the Work and provide, reasonable to the medium or means You are utilizing',
];
const CREDIT = 'Name the maker, keep the notices, and give the address of the license where you pass the font or show it in public.';
const SHARE_ALIKE = 'What you make out of the font file and pass on must carry the same license.';

/** Where a business earns money, "non-commercial" says no; what it does for itself alone is a question. */
const nonCommercial = (grant: Words, change: Words): OpenLicense['uses'] =>
  Object.fromEntries(
    USES.map((use) => {
      const within = use === 'design-work' || use === 'passing-on';
      return [use, says(within || use === 'changing' ? 'ask' : 'no', use === 'changing' ? change : grant)];
    }),
  ) as OpenLicense['uses'];
/** Some answers replaced, each by the clause that asks something. */
const asks = (uses: OpenLicense['uses'], others: WordsOn): OpenLicense['uses'] => ({
  ...uses,
  ...Object.fromEntries(Object.entries(others).map(([use, words]) => [use, says('ask', words)])),
});
const GPL2_GRANT: Words = [
  'Section 1',
  "You may copy and distribute verbatim copies of the Program's source code as you receive it, in any medium",
];
const GPL2_CHANGE: Words = [
  'Section 2',
  'You may modify your copy or copies of the Program or any portion of it, thus forming a work based on the Program',
];
const GPL2_RUN: Words = ['Section 0', 'The act of running the Program is not restricted'];
const GPL3_GRANT: Words = ['Section 4', "You may convey verbatim copies of the Program's source code as you receive it, in any medium"];
const GPL3_CHANGE: Words = ['Section 5', 'You may convey a work based on the Program, or the modifications to produce it from the Program'];
const GPL3_RUN: Words = [
  'Section 2',
  'The output from running a covered work is covered by this License only if the output, given its content, constitutes a covered work.',
];
const FONT_EXCEPTION: Words = [
  'Font exception',
  'if you create a document which uses this font, and embed this font or unaltered portions of this font into the document, this font does not by itself cause the resulting document to be covered by the GNU General Public License.',
];
const GPL_DUTIES = [
  'Pass the license text along with the font file, and offer its sources.',
  'Say in changed files that you changed them, and when; they keep this license.',
];

/**
 * The GNU General Public License knows programs, not fonts. Whether a file that carries the font falls under it is open
 * without the exception for documents. Source: Free Software Foundation, GPL FAQ, on fonts.
 */
const gpl = (grant: Words, change: Words, run: Words, exception: boolean): OpenLicense['uses'] => {
  const uses = all(grant, { 'design-work': run, 'printed-goods': run, logo: run, 'customers-words': run, changing: change });
  return {
    ...uses,
    documents: exception ? says('yes', FONT_EXCEPTION) : says('ask', grant),
    app: says('ask', change),
  };
};

const gplEntries = (version: '2.0' | '3.0', later: boolean, exception: boolean): OpenLicense => ({
  spdxId: `GPL-${version}-${later ? 'or-later' : 'only'}${exception ? ' WITH Font-exception-2.0' : ''}`,
  name: `GNU General Public License ${version}${later ? ' or later' : ''}${exception ? ' with font exception' : ''}`,
  kind: 'open',
  alsoKnownAs: exception ? (later || version !== '2.0' ? [] : ['GPL-2.0-with-font-exception']) : [`GPL-${version}${later ? '+' : ''}`],
  uses: version === '2.0' ? gpl(GPL2_GRANT, GPL2_CHANGE, GPL2_RUN, exception) : gpl(GPL3_GRANT, GPL3_CHANGE, GPL3_RUN, exception),
  duties: GPL_DUTIES,
});

const IPA_PRINT: Words = [
  'Article 2, paragraph 2',
  'The Recipient may use the Licensed Program, with or without modification in printed materials or in Digital Content',
];
const IPA_PASS: Words = [
  'Article 2, paragraph 6',
  'The Recipient may reproduce the Licensed Program as is without modification and transfer such copies, publicly transmit or otherwise redistribute',
];

const IPA_AS_IS: Words = ['Article 3, paragraph 2(2)', 'The Recipient may not alter or otherwise modify the Licensed Program.'];
const IPA_NAME: Words = [
  'Article 3, paragraph 1(4)',
  'No one may use or include the name of the Licensed Program as a program name, font name or file name of the Derived Program.',
];

const LPPL_RUN: Words = ['Clause 1', 'the act of running the Work is not restricted'];
const LPPL_PASS: Words = ['Clause 2', 'You may distribute a complete, unmodified copy of the Work as you received it.'];
const LPPL_PART: Words = [
  'Clause 2',
  'Distribution of only part of the Work is considered modification of the Work, and no right to distribute such a Derived Work may be assumed under the terms of this clause.',
];
const LPPL_DERIVED: Words = [
  'Clause 6',
  'you may distribute a Derived Work provided the following conditions are met for every component of the Work',
];
/** One font file out of a package, or a part of it within a document, is a part of the Work. */
const lpplUses = asks(all(LPPL_RUN, { 'passing-on': LPPL_PASS }), {
  website: LPPL_PART,
  'online-store': LPPL_PART,
  'design-tool': LPPL_PART,
  documents: LPPL_PART,
  app: LPPL_PART,
  changing: LPPL_DERIVED,
});

const ARPHIC_CHANGE: Words = [
  'Section 2(b)',
  'You must make such modifications Freely Available as a whole to all third parties under the terms of this License',
];
const ARPHIC_FORMAT: Words = [
  'Section 2',
  'You may otherwise modify your copy of this Font in any way, including modifying glyph, reordering glyph, converting format, changing font name, or adding/deleting some characters in/from glyph table',
];

const UBUNTU_MODIFIED: Words = [
  'Definitions, with condition 2',
  '"Modified Version" refers to any derivative made by adding to, deleting, or substituting -- in part or in whole -- any of the components of the Original Version, by changing formats or by porting the Font Software to a new environment.',
];

const BSD_GRANT: Words = ['Permission', 'Redistribution and use in source and binary forms, with or without modification, are permitted'];
const ISC_GRANT: Words = [
  'Permission',
  'Permission to use, copy, modify, and/or distribute this software for any purpose with or without fee is hereby granted',
];
const NOTICE_DUTY = ['Pass the copyright and license text along with the font file.'];

/** Open licenses that fonts are commonly released under. Quotes are from the SPDX texts of each license. */
export const OPEN_LICENSES: readonly OpenLicense[] = [
  {
    spdxId: 'OFL-1.1',
    name: 'SIL Open Font License 1.1',
    kind: 'open',
    alsoKnownAs: ['OFL-1.1-RFN', 'OFL-1.1-no-RFN'],
    uses: oflUses,
    duties: oflDuties,
  },
  {
    spdxId: 'OFL-1.0',
    name: 'SIL Open Font License 1.0',
    kind: 'open',
    alsoKnownAs: ['OFL-1.0-RFN', 'OFL-1.0-no-RFN'],
    uses: asks(all(OFL_USE, { app: OFL10_BUNDLE, 'passing-on': OFL10_BUNDLE }), { documents: OFL10_DOCUMENT }),
    duties: oflDuties,
  },
  {
    spdxId: 'Apache-2.0',
    name: 'Apache License 2.0',
    kind: 'open',
    alsoKnownAs: [],
    uses: all([
      'Section 2',
      'each Contributor hereby grants to You a perpetual, worldwide, non-exclusive, no-charge, royalty-free, irrevocable copyright license to reproduce, prepare Derivative Works of, publicly display, publicly perform, sublicense, and distribute the Work',
    ]),
    duties: ['Pass the license text and notices along with the font file.', 'Say in changed files that you changed them.'],
  },
  {
    spdxId: 'Ubuntu-font-1.0',
    name: 'Ubuntu Font Licence 1.0',
    kind: 'open',
    alsoKnownAs: [],
    // A format for the web makes a Modified Version, which must be renamed (Definitions; condition 2).
    uses: asks(
      all([
        'Permission',
        'Permission is hereby granted, free of charge, to any person obtaining a copy of the Font Software, to propagate the Font Software',
      ]),
      {
        website: UBUNTU_MODIFIED,
        'online-store': UBUNTU_MODIFIED,
        changing: [
          'Condition 2(c)',
          'Modified Versions which are not Substantially Changed must be renamed to both (i) retain the name of the Original Version and (ii) add additional naming elements to distinguish the Modified Version from the Original Version.',
        ],
      },
    ),
    duties: ['Pass the license text along with the font file.', 'A changed version needs another name as the license sets out.'],
  },
  {
    spdxId: 'MIT',
    name: 'MIT License',
    kind: 'open',
    alsoKnownAs: [],
    uses: all([
      'Permission',
      'to deal in the Software without restriction, including without limitation the rights to use, copy, modify, merge, publish, distribute, sublicense, and/or sell copies of the Software',
    ]),
    duties: ['Pass the copyright and license text along with the font file.'],
  },
  {
    spdxId: 'CC0-1.0',
    name: 'Creative Commons Zero 1.0',
    kind: 'open',
    alsoKnownAs: [],
    uses: all([
      'Section 2',
      'Affirmer hereby overtly, fully, permanently, irrevocably and unconditionally waives, abandons, and surrenders all of Affirmer’s Copyright and Related Rights',
    ]),
    duties: [],
  },
  {
    spdxId: 'Bitstream-Vera',
    name: 'Bitstream Vera license',
    kind: 'open',
    alsoKnownAs: [],
    uses: asks(
      all([
        'Permission',
        'to reproduce and distribute the Font Software, including without limitation the rights to use, copy, merge, publish, distribute, and/or sell copies of the Font Software',
      ]),
      {
        changing: [
          'Condition on changes',
          'The Font Software may be modified, altered, or added to, and in particular the designs of glyphs or characters in the Fonts may be modified and additional glyphs or characters may be added to the Fonts, only if the fonts are renamed to names not containing either the words "Bitstream" or the word "Vera".',
        ],
      },
    ),
    duties: [
      'Pass the copyright and license text along with the font file.',
      'A changed version needs another name.',
      'Do not sell the font by itself.',
    ],
  },
  {
    spdxId: 'ISC',
    name: 'ISC License',
    kind: 'open',
    alsoKnownAs: [],
    uses: all(ISC_GRANT),
    duties: NOTICE_DUTY,
  },
  { spdxId: '0BSD', name: 'BSD Zero Clause License', kind: 'open', alsoKnownAs: [], uses: all(ISC_GRANT), duties: [] },
  {
    spdxId: 'BSD-2-Clause',
    name: 'BSD 2-Clause License',
    kind: 'open',
    alsoKnownAs: [],
    uses: all(BSD_GRANT),
    duties: NOTICE_DUTY,
  },
  {
    spdxId: 'BSD-3-Clause',
    name: 'BSD 3-Clause License',
    kind: 'open',
    alsoKnownAs: [],
    uses: all(BSD_GRANT),
    duties: [...NOTICE_DUTY, 'Do not use the makers’ names to recommend your product.'],
  },
  {
    spdxId: 'Zlib',
    name: 'zlib License',
    kind: 'open',
    alsoKnownAs: [],
    uses: all([
      'Permission',
      'Permission is granted to anyone to use this software for any purpose, including commercial applications, and to alter it and redistribute it freely',
    ]),
    duties: ['Say in changed files that they were changed.', 'Leave the notice in the sources.'],
  },
  {
    spdxId: 'Unlicense',
    name: 'The Unlicense',
    kind: 'open',
    alsoKnownAs: [],
    uses: all(['Paragraph 2', 'Anyone is free to copy, modify, publish, use, compile, sell, or distribute this software']),
    duties: [],
  },
  {
    spdxId: 'CC-BY-4.0',
    name: 'Creative Commons Attribution 4.0',
    kind: 'open',
    alsoKnownAs: [],
    uses: asks(all(BY_GRANT, { changing: BY_CHANGE }), { logo: BY_CREDITED, app: BY_MEASURES, documents: BY_MEASURES }),
    duties: [CREDIT, 'Say what you changed.'],
  },
  {
    spdxId: 'CC-BY-3.0',
    name: 'Creative Commons Attribution 3.0',
    kind: 'open',
    alsoKnownAs: [],
    uses: asks(all(BY3_GRANT, { changing: BY3_CHANGE }), { logo: BY3_CREDITED, app: BY3_MEASURES, documents: BY3_MEASURES }),
    duties: [CREDIT, 'Say what you changed.'],
  },
  {
    spdxId: 'CC-BY-SA-4.0',
    name: 'Creative Commons Attribution-ShareAlike 4.0',
    kind: 'open',
    alsoKnownAs: [],
    uses: asks(all(BY_GRANT, { changing: BY_CHANGE }), { logo: BY_CREDITED, app: BY_MEASURES, documents: BY_MEASURES }),
    duties: [CREDIT, SHARE_ALIKE],
  },
  {
    spdxId: 'CC-BY-SA-3.0',
    name: 'Creative Commons Attribution-ShareAlike 3.0',
    kind: 'open',
    alsoKnownAs: [],
    uses: asks(all(BY3_GRANT, { changing: BY3_CHANGE }), { logo: BY3_CREDITED, app: BY3_MEASURES, documents: BY3_MEASURES }),
    duties: [CREDIT, SHARE_ALIKE],
  },
  {
    spdxId: 'CC-BY-ND-4.0',
    name: 'Creative Commons Attribution-NoDerivatives 4.0',
    kind: 'free',
    alsoKnownAs: [],
    uses: asks(all(BY_GRANT), { changing: ND_CHANGE, logo: BY_CREDITED, app: BY_MEASURES, documents: BY_MEASURES }),
    duties: [CREDIT, 'Do not pass a changed file on.'],
  },
  {
    spdxId: 'CC-BY-NC-4.0',
    name: 'Creative Commons Attribution-NonCommercial 4.0',
    kind: 'free',
    alsoKnownAs: [],
    uses: nonCommercial(NC_GRANT, NC_CHANGE),
    duties: [CREDIT],
  },
  {
    spdxId: 'CC-BY-NC-SA-4.0',
    name: 'Creative Commons Attribution-NonCommercial-ShareAlike 4.0',
    kind: 'free',
    alsoKnownAs: [],
    uses: nonCommercial(NC_GRANT, NC_CHANGE),
    duties: [CREDIT, SHARE_ALIKE],
  },
  {
    spdxId: 'CC-BY-NC-ND-4.0',
    name: 'Creative Commons Attribution-NonCommercial-NoDerivatives 4.0',
    kind: 'free',
    alsoKnownAs: [],
    uses: nonCommercial(NC_GRANT, [
      'Section 2(a)(1)(B)',
      'produce and reproduce, but not Share, Adapted Material for NonCommercial purposes only.',
    ]),
    duties: [CREDIT, 'Do not pass a changed file on.'],
  },
  ...(['2.0', '3.0'] as const).flatMap((v) =>
    [false, true].flatMap((later) => [false, true].map((exception) => gplEntries(v, later, exception))),
  ),
  {
    spdxId: 'LPPL-1.3c',
    name: 'LaTeX Project Public License 1.3c',
    kind: 'open',
    alsoKnownAs: [],
    uses: lpplUses,
    duties: [
      'Pass the license text along with the font file.',
      'A changed version must say that it was changed, and be given another name.',
    ],
  },
  {
    // Not on the SPDX License List; it is the LPPL with a request about names.
    spdxId: 'LicenseRef-GUST-Font-License',
    name: 'GUST Font License',
    kind: 'open',
    alsoKnownAs: [],
    uses: lpplUses,
    duties: ['Pass the license text along with the font file.', 'Give a changed version another name; its makers ask for that.'],
  },
  {
    spdxId: 'IPA',
    name: 'IPA Font License 1.0',
    kind: 'open',
    alsoKnownAs: [],
    uses: {
      ...all(IPA_PRINT, {
        'design-work': [
          'Article 2, paragraph 1',
          'The Recipient may install the Licensed Program on any number of Computers and use the same',
        ],
        'passing-on': IPA_PASS,
        'design-tool': IPA_PASS,
        app: IPA_PASS,
      }),
      // Article 3, paragraph 2(2): passed on only as it is; a format for the web is a Derived Program, for which 1(4) holds.
      ...asks({} as OpenLicense['uses'], { website: IPA_AS_IS, 'online-store': IPA_AS_IS, changing: IPA_NAME }),
    },
    duties: [
      'Attach the license text where you pass the font on, and do not change its name.',
      'A changed version needs another name, keeps this license, and must come with a way back to the original.',
    ],
  },
  {
    spdxId: 'Arphic-1999',
    name: 'Arphic Public License',
    kind: 'open',
    alsoKnownAs: [],
    // Another format, or a part of the characters, is a modification, which must be free for all (Section 2).
    uses: asks(all(['Section 1', 'You may copy and distribute verbatim copies of this Font in any medium, without restriction']), {
      website: ARPHIC_FORMAT,
      'online-store': ARPHIC_FORMAT,
      documents: ARPHIC_FORMAT,
      changing: ARPHIC_CHANGE,
    }),
    duties: ['Keep the license file with every copy.', 'Changed files must say when and how they were changed, and be freely available.'],
  },
  {
    spdxId: 'mplus',
    name: 'M+ Fonts License',
    kind: 'open',
    alsoKnownAs: [],
    uses: all([
      'Permission',
      'Unlimited permission is granted to use, copy, and distribute it, with or without modification, either commercially and noncommercially.',
    ]),
    duties: [],
  },
  {
    spdxId: 'Baekmuk',
    name: 'Baekmuk License',
    kind: 'open',
    alsoKnownAs: [],
    uses: all(['Permission', 'Permission to use, copy, modify and distribute this font is hereby granted']),
    duties: ['Keep the copyright and permission notice in all copies.', 'Name the trademarks in the documentation.'],
  },
  {
    spdxId: 'Bitstream-Charter',
    name: 'Bitstream Charter License',
    kind: 'open',
    alsoKnownAs: [],
    uses: all([
      'Permission',
      'to use, copy, modify, sublicense, sell, and redistribute the 4 Bitstream Charter (r) Type 1 outline fonts and the 4 Courier Type 1 outline fonts for any purpose and without restriction',
    ]),
    duties: ['Leave the notice on all copies.', 'Acknowledge the trademark on unchanged copies.'],
  },
  {
    spdxId: 'ParaType-Free-Font-1.3',
    name: 'ParaType Free Font License 1.3',
    kind: 'open',
    alsoKnownAs: [],
    uses: asks(
      all([
        'Grant of license',
        'grants you the right to use, copy, modify the fonts and distribute modified and unmodified copies of the fonts by any means, including placing on Web servers for free downloading, embedding in documents and Web pages, bundling with commercial and non commercial products',
      ]),
      { changing: ['Third condition', 'You may not distribute modified version of the font under the Original name'] },
    ),
    duties: [
      'Pass the license text and copyright notice along with the font file.',
      'Do not sell the font by itself.',
      'A changed version needs another name.',
    ],
  },
];

const BY_ID = new Map(OPEN_LICENSES.flatMap((l) => [l.spdxId, ...l.alsoKnownAs].map((id) => [id, l] as const)));

/** A known open license by its SPDX id; null for others. */
export function openLicense(spdxId: string): OpenLicense | null {
  return BY_ID.get(spdxId) ?? null;
}
