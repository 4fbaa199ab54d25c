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
  { ids: /^OFL-/, until: /This Font Software is licensed under the SIL Open Font License/ },
  { ids: /^ParaType-/, until: /GRANT OF LICENSE/ },
  { ids: /GUST/, until: /This work may be distributed/ },
  { ids: /^X11$/, from: /X Window System is a trademark/ },
  { ids: /^Unlicense$/, from: /For more information, please refer to/ },
  { ids: /^LPPL-/, from: /WHETHER AND HOW TO DISTRIBUTE WORKS UNDER THIS LICENSE/ },
];

/**
 * Words that turn a permission around or narrow it. A known text in which one of them was put in or left out is not that
 * text any more, however much of it is the same.
 */
export const TURNING_WORDS: ReadonlySet<string> = new Set(
  'not no non never except unless only commercial commercially noncommercial personal personally private prohibited forbidden forbid restricted cannot without exclude excluding excluded evil'.split(
    ' ',
  ),
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
