/** How texts name licenses in passing. Patterns are tried on one sentence. `spdxId` is null where more must be known. */
export const NAMED_LICENSES: readonly { pattern: RegExp; spdxId: string | null; name: string }[] = [
  {
    pattern:
      /open font licen[cs]e[,\s]{0,3}\(?(?:\bOFL\b\)?[,\s]{0,3})?(?:version|ver\.?|v\.?)?\s?1\.1(?!\d)|\bOFL[-\s,]{0,3}(?:version|v\.?)?\s?1\.1(?!\d)/i,
    spdxId: 'OFL-1.1',
    name: 'SIL Open Font License 1.1',
  },
  {
    pattern:
      /open font licen[cs]e[,\s]{0,3}\(?(?:\bOFL\b\)?[,\s]{0,3})?(?:version|ver\.?|v\.?)?\s?1\.0(?!\d)|\bOFL[-\s,]{0,3}(?:version|v\.?)?\s?1\.0(?!\d)/i,
    spdxId: 'OFL-1.0',
    name: 'SIL Open Font License 1.0',
  },
  {
    pattern: /open font licen[cs]e|\b(?:SIL )?OFL\b|scripts\.sil\.org\/OFL|openfontlicense\.org/i,
    spdxId: null,
    name: 'SIL Open Font License',
  },
  {
    pattern:
      /apache(?: software)? licen[cs]e[,\s]{0,3}(?:\(?(?:version|ver\.?|v\.?)?\s?2(?:\.0)?\b)|\bapache[- ]2(?:\.0)?\b|apache\.org\/licenses\/LICENSE-2\.0/i,
    spdxId: 'Apache-2.0',
    name: 'Apache License 2.0',
  },
  { pattern: /apache licen[cs]e/i, spdxId: null, name: 'Apache License' },
  { pattern: /ubuntu font licen[cs]e/i, spdxId: 'Ubuntu-font-1.0', name: 'Ubuntu Font License 1.0' },
  {
    pattern: /\b(?:MIT|Expat)[- ]licen[cs]ed?\b|(?<=licen[cs]ed under (?:the )?)\b(?:MIT|Expat)\b|opensource\.org\/licenses\/MIT\b/i,
    spdxId: 'MIT',
    name: 'MIT License',
  },
  { pattern: /\bISC licen[cs]e\b/i, spdxId: 'ISC', name: 'ISC License' },
  { pattern: /\b(?:2-clause|two-clause|simplified) BSD\b|\bBSD.2.clause\b/i, spdxId: 'BSD-2-Clause', name: 'BSD 2-Clause License' },
  { pattern: /\b(?:3-clause|three-clause|new|modified) BSD\b|\bBSD.3.clause\b/i, spdxId: 'BSD-3-Clause', name: 'BSD 3-Clause License' },
  { pattern: /\bBSD licen[cs]e\b/i, spdxId: null, name: 'BSD License' },
  { pattern: /\bCC0\b|creativecommons\.org\/publicdomain\/zero/i, spdxId: 'CC0-1.0', name: 'Creative Commons Zero 1.0' },
  { pattern: /\bunlicense\.org\b|\bthe unlicense\b/i, spdxId: 'Unlicense', name: 'The Unlicense' },
  { pattern: /\bGUST Font Licen[cs]e\b/i, spdxId: 'LicenseRef-GUST-Font-License', name: 'GUST Font License' },
  { pattern: /\bLaTeX Project Public Licen[cs]e\b|\bLPPL\b/i, spdxId: null, name: 'LaTeX Project Public License' },
  { pattern: /\bIPA Font Licen[cs]e\b/i, spdxId: 'IPA', name: 'IPA Font License' },
  { pattern: /\bArphic Public Licen[cs]e\b/i, spdxId: 'Arphic-1999', name: 'Arphic Public License' },
  { pattern: /\bParaType Free Font Licen[cs]/i, spdxId: 'ParaType-Free-Font-1.3', name: 'ParaType Free Font License' },
  { pattern: /\bMozilla Public Licen[cs]e\b|\bMPL\b/, spdxId: null, name: 'Mozilla Public License' },
  { pattern: /\bpublic domain\b/i, spdxId: null, name: 'Public domain' },
];

/** Licenses of Creative Commons: parts and version are read from the name or the address. */
export const CREATIVE_COMMONS =
  /creativecommons\.org\/licenses\/((?:by|nc|nd|sa)(?:-(?:nc|nd|sa))*)(?:\/(\d\.\d))?|\bCC[- ]?(BY(?:[- ](?:NC|ND|SA))*)(?:[- ](\d\.\d))?|creative commons attribution((?:[-– ]{1,3}(?:non-?commercial|no-?deriv(?:ative)?s?(?: works)?|share-?alike))*)(?:[- ,]*(?:version )?(\d\.\d))?/i;

/** Licenses of the GNU project: which one, and its version. */
export const GNU =
  /\bGNU\b[\s,]*((?:lesser|library|affero)\s+)?(?:general\s+public\s+licen[cs]e|GPL\b)|\b([AL]?)GPL(?:[- ]?v?(\d(?:\.\d)?)(\+)?)?(?![a-z])/i;
export const GNU_VERSION = /\bversion\s*(\d(?:\.\d)?)|\bv\s?(\d(?:\.\d)?)\b|GPL[- ]?v?(\d(?:\.\d)?)/i;

/** What stands before the name of a license where a sentence puts something under it. */
export const PUTS_UNDER =
  /\b(?:licen[cs]ed|released|distributed|published|available|provided|covered|offered|redistributed?|distribute|shared|governed|(?:dedicated|placed|put|released) (?:to|in|into))\b[^.!?]*?\b(?:under|by|with|according to|in accordance with|subject to|on|to|in(?:to)?|via|through|per)\b[^.!?]*$/i;

/** What makes a sentence no plain grant: it denies, doubts, compares, or speaks of another time or of a part. */
export const UNPLAIN =
  /\b(?:not|no|never|neither|nor|cannot|n[o’']t|except|unless|without|instead|rather|other than|formerly|previously|earlier|older|was|were|used to|will|shall|may be|might|could|should|would|if|until|unlike|similar|like|resembl\w+|based on|inspired|compatible|than|but|although|however|only|some|parts?|portions?|certain|exclud\w+|denied|revoked|withdrawn|terminated|no longer|ask|contact|buy|purchase|question|whether|please)\b|n[’']t\b|\?/i;

/** What a license is said to be for, where that is not the font. */
export const OTHER_THINGS =
  /\b(?:code|source|site|website|web ?pages?|pages?|scripts?|javascript|css|style ?sheets?|documentation|docs|manual|templates?|themes?|tools?|apps?|library|libraries|plug-?ins?|images?|artwork|icons?|pictograms?|pictures?|photos?|packaging|package|program|logos?|wordmarks?|examples?|samples?|kit|build|everything else|all other|the rest)\b/i;
/** What says that a part was taken from elsewhere. */
export const FROM_ELSEWHERE = /\b(?:from|borrowed|derived|taken|based)\b/i;
export const THE_FONT = /\b(?:fonts?|typefaces?|glyphs?|lettering|type family|font software|font family)\b/i;

/**
 * Standard words of notices that neither grant nor take back; they are taken out before a notice is judged. Sources: the
 * "How to apply" parts of the GNU and Apache licenses, SIL's wording for name IDs 13 and 14, the GNU font exception.
 */
export const STANDARD_WORDS: readonly RegExp[] = [
  /\(?at your option\)? any later version/gi,
  /you may not use (?:this|the|these)\s+[^.;]{1,60}? except in compliance with the licen[cs]e/gi,
  /you may obtain a copy of the licen[cs]e at\s*\S*/gi,
  /unless required by applicable law or agreed to in writing,?[^.]*/gi,
  /see the licen[cs]e for the specific language[^.]*/gi,
  /[^.;]*\bwithout (?:any )?(?:warranty|warranties)\b[^.]*/gi,
  /without even the implied warranty[^.]*/gi,
  /see the gnu [^.]*for more details/gi,
  /you should have received a copy[^.;]*(?:;\s*if not,?[^.]*)?/gi,
  /if not,? (?:write to|see|it is available)[^.]*/gi,
  /on debian (?:gnu\/linux )?systems,?[^.]*/gi,
  /this licen[cs]e is (?:also )?(?:available|copied)[^.]*/gi,
  /this licen[cs]e (?:is|can) (?:also )?(?:be )?(?:found|read)[^.]*/gi,
  /to view a copy of (?:this|the) licen[cs]e,?[^.]*/gi,
  /the full text of (?:this|the) licen[cs]e[^.]*/gi,
  /as a special exception,?[^.]*/gi,
  /this exception does not,? however,?[^.]*/gi,
  /if you modify (?:this|the) font,? you may extend[^.]*/gi,
  /if you do not wish to do so,?[^.]*/gi,
  /as published by the free software foundation/gi,
];

/** What takes back, narrows or makes doubtful what another sentence grants. */
export const TAKES_BACK =
  /\b(?:not|never|no longer|isn[’']t|aren[’']t)\b[^.]{0,60}\b(?:licen[cs]ed|covered|released|available|open|free|apply|applies|applicable|part of|public domain|redistribut\w+|shared?)\b|\bpersonal(?:ly)?\b[^.]{0,30}\b(?:us(?:e|age)|projects?|only)\b|\b(?:non-?commercial|not for (?:commercial|profit))\b|\bcommercial(?:ly)?\b[^.]{0,60}\b(?:licen[cs]e|permission|contact|buy|purchase|fee|pay|prohibited|forbidden)\b|\b(?:demo|trial|evaluation|test(?:ing)?)\s+(?:version|font|use|purposes?|only)\b|\ball rights reserved\b|\b(?:prohibited|forbidden|unauthori[sz]ed|strictly)\b|\b(?:proprietary|confidential|end.user licen[cs]e agreement|EULA)\b|\b(?:must|need to|have to)\b[^.]{0,40}\b(?:buy|purchase|pay|donat\w+|licen[cs]e|permission)\b|\bexcept\b|\bunless\b/i;

/** What says that a license which stands beside it does not apply. */
export const DENIES =
  /\b(?:not|never|no longer|isn[’']t|aren[’']t|doesn[’']t|don[’']t)\b[^.]{0,60}\b(?:licen[cs]ed|covered|released|appl(?:y|ies|icable)|valid|in force)\b|\b(?:licen[cs]e|terms?)\b[^.]{0,40}\b(?:expired|expires|revoked|withdrawn|terminated|ended|ends)\b|\b(?:instead of|in place of|rather than)\b[^.]{0,40}\blicen[cs]e\b/i;
