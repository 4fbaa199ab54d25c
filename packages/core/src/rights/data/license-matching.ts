/** Spellings that count as the same word. Source: SPDX specification, license matching guidelines, equivalent words. */
export const SAME_WORDS: Readonly<Record<string, string>> = {
  licence: 'license',
  licences: 'licenses',
  licenced: 'licensed',
  sublicence: 'sublicense',
  acknowledgement: 'acknowledgment',
  analogue: 'analog',
  analyse: 'analyze',
  artefact: 'artifact',
  authorisation: 'authorization',
  authorised: 'authorized',
  calibre: 'caliber',
  cancelled: 'canceled',
  capitalisations: 'capitalizations',
  catalogue: 'catalog',
  categorise: 'categorize',
  centre: 'center',
  emphasised: 'emphasized',
  favour: 'favor',
  favourite: 'favorite',
  fulfil: 'fulfill',
  fulfilment: 'fulfillment',
  honour: 'honor',
  initialise: 'initialize',
  judgment: 'judgement',
  labelling: 'labeling',
  labour: 'labor',
  maximise: 'maximize',
  modelled: 'modeled',
  modelling: 'modeling',
  offence: 'offense',
  optimise: 'optimize',
  organisation: 'organization',
  organise: 'organize',
  practise: 'practice',
  programme: 'program',
  realise: 'realize',
  recognise: 'recognize',
  signalling: 'signaling',
  utilisation: 'utilization',
  whilst: 'while',
  wilful: 'willful',
  https: 'http',
};

/**
 * Parts of a license text that may be left out without making it another text: instructions on how to apply it and
 * notices of its publisher. `from` is where such a part begins (to the end), `until` where it ends (from the beginning).
 * Source: the optional parts of the SPDX License List's templates.
 */
export const OPTIONAL_PARTS: readonly { ids: RegExp; from?: RegExp; until?: RegExp }[] = [
  { ids: /^(Apache-2\.0|A?L?GPL-)/, from: /END OF TERMS AND CONDITIONS/ },
  { ids: /^CC-BY.*-4\.0$/, from: /Creative Commons is not a party to its public licenses/, until: /By exercising the Licensed Rights/ },
  {
    ids: /^CC-BY.*-(1|2|3)\.\d$/,
    from: /Creative Commons Notice|Creative Commons is not a party to this License/,
    until: /THE WORK \(AS DEFINED BELOW\) IS PROVIDED/,
  },
  { ids: /^CC0-1\.0$/, until: /The laws of most jurisdictions/ },
  { ids: /^OFL-/, until: /PREAMBLE/ },
  { ids: /^ParaType-/, until: /GRANT OF LICENSE/ },
  { ids: /GUST/, until: /This work may be distributed/ },
  { ids: /^Bitstream-Vera$/, until: /Permission is hereby granted/ },
  { ids: /^X11$/, from: /X Window System is a trademark/ },
  { ids: /^Unlicense$/, from: /For more information, please refer to/ },
  { ids: /^LPPL-/, from: /WHETHER AND HOW TO DISTRIBUTE WORKS UNDER THIS LICENSE/ },
];

/**
 * Passages of license texts that neither grant nor bind nor disclaim, so that leaving one out changes nothing. All else in
 * a license counts, word for word.
 */
export const FREE_PASSAGES: readonly { ids: RegExp; pattern: RegExp }[] = [{ ids: /^OFL-/, pattern: /PREAMBLE[\s\S]*?(?=DEFINITIONS)/g }];

/** Wordings that mean the same, as words without punctuation. An empty one may be left out. */
export const VARIANTS: readonly (readonly string[])[] = [
  // A single maker has no contributors to speak of.
  ['and contributors', ''],
  ['or contributors', ''],
  ['nor the names of its contributors', ''],
  ['its', 'their'],
  // Slips of typing that packages hand on.
  ['softwares', 'software'],
  ['fonts', 'font'],
  ['versions', 'version'],
  ['\u0430', 'a'],
];

/** Words that no name of a person or an organization holds, and that would say something in the place of one. */
export const NO_NAME: ReadonlySet<string> = new Set(
  `a an any all no not non never nor neither for to if when whenever while unless until till only solely except but
  may might must shall should will would can cannot could is are be been being was were has have had do does did
  with without within after before during under per at in into on onto upon as than then that which who whom whose this these those it they them he she
  you your yours we our us i my me their
  use used uses using usage user users pay paid pays payment fee fees royalty royalties price cost costs charge money euro euros dollar dollars eur usd
  month months monthly day days daily year years yearly week weeks hour hours
  personal personally private commercial commercially noncommercial nonprofit educational evaluation trial demo testing internal
  person persons people employee employees student students member members customer customers client clients
  permission permissions permitted permit permits granted grant grants allowed allow allows license licensed licenses licensing licensee terms term condition conditions conditional
  restricted restriction restrictions prohibited prohibit forbidden forbid banned excluded excluding exclude expires expire expired valid void
  copy copies copying modify modified modification sell sold selling sale resale distribute distributed distribution redistribute embed embedded
  website websites web app apps required require requires subject provided obtain obtained purchase purchased buy bought agree agreement consent
  one two three four five six seven eight nine ten twelve fifteen twenty thirty sixty ninety hundred thousand`.split(/\s+/),
);

/** License texts of fonts that the SPDX License List does not have. */
export const MORE_TEXTS: readonly { spdxId: string; text: string }[] = [
  {
    // As the fonts of the GUST e-foundry ship it.
    spdxId: 'LicenseRef-GUST-Font-License',
    text: `This is a preliminary version (2006-09-30), barring acceptance from the LaTeX Project Team and other feedback, of the GUST Font License. (GUST is the Polish TeX Users Group, http://www.gust.org.pl)

For the most recent version of this license see http://www.gust.org.pl/fonts/licenses/GUST-FONT-LICENSE.txt or http://tug.org/fonts/licenses/GUST-FONT-LICENSE.txt

This work may be distributed and/or modified under the conditions of the LaTeX Project Public License, either version 1.3c of this license or (at your option) any later version.

Please also observe the following clause:
1) it is requested, but not legally required, that derived works be distributed only after changing the names of the fonts comprising this work and given in an accompanying "manifest", and that the files comprising the Work, as listed in the manifest, also be given new names. Any exceptions to this request are also given in the manifest.

We recommend the manifest be given in a separate file named MANIFEST-<fontid>.txt, where <fontid> is some unique identification of the font family. If a separate "readme" file accompanies the Work, we recommend a name of the form README-<fontid>.txt.

The latest version of the LaTeX Project Public License is in http://www.latex-project.org/lppl.txt and version 1.3c or later is part of all distributions of LaTeX version 2006/05/20 or later.`,
  },
];
