import type { Limit, Use } from '../uses.js';

/**
 * Words by which terms in English name a use: common practice in the terms of makers and sellers. They are meant to find too
 * much rather than too little, since what they find is shown to a person.
 */
export const USE_WORDS_IN_TERMS: readonly { uses: readonly Use[]; pattern: RegExp }[] = [
  // What is sold or stands for a business is what "commercial" is about.
  {
    uses: ['printed-goods', 'logo'],
    pattern:
      /\b(commercial(ly)?|non-?commercial(ly)?|for[- ]profit|clients?([’']s?)? (work|jobs?|projects?|logos?)|customer (work|jobs?)|monetary gain|money with|make money|business(es)? (use|purposes?|may|can|pay)|companies|company|paid (work|jobs?|projects?)|professional(ly)? (use|work)|any (use|purpose|project|kind of)|all (uses?|projects?|purposes?|other use)|whatever|anything|everything|as you (please|like)|published or sold|finished work|monetiz\w+)\b/i,
  },
  {
    uses: ['printed-goods'],
    pattern:
      /\b(print(ed|s|ing|able)?(?![- ]on[- ]demand)|merch(andise|andising)?|goods|products?|physical|t-?shirts?|tee-?shirts?|shirts?|mugs?|cups?|apparel|clothing|packag(e|es|ing)|labels?|posters?|flyers?|leaflets?|stickers?|decals?|vinyl|sign(s|age)|banners?|shop (signs?|windows?)|totes?|bags?|stamps?|stencils?|house numbers|cards?|invitations?|menus?|brochures?|(book|record) ?covers?|(?<!e-?)books|(?<!digital )magazines?|end[- ]products?|items?|for sale|for resale|copies|pieces|units|sell (it )?on|you sell|that (you|i|we) sell|letters on paper|embroider\w*|engrav\w+|fabrics?|textiles?)\b/i,
  },
  {
    uses: ['logo'],
    pattern:
      /\b(logo(type|mark)?s?(?! (maker|generator|editor))|trade ?marks?|service marks?|brand(s|ing|ed)?|word ?marks?|corporate identity)\b/i,
  },
  {
    uses: ['website', 'online-store'],
    pattern:
      /\b(web|web ?(fonts?|sites?|pages?|embedding|use|server|licen[cs]e)|(?<!commerce |sharing )sites?|home ?pages?|self-?host\w*|page ?views?|views|domains?|servers?|hosting|internet|css|woff2?|blogs?)\b|@font-?face/i,
  },
  { uses: ['online-store'], pattern: /\b(online (stores?|shops?)|web ?(stores?|shops?)|e-?commerce|store provider|shop ?system)\b/i },
  {
    uses: ['design-tool'],
    pattern:
      /\b(upload\w*|online (design|editing|logo|graphics?|editors?|tools?|service)\w*|third[- ]party (services?|servers?|platforms?|tools?|websites?)|cloud|editors?|design tools?|content delivery|logo makers?|generators?)\b/i,
  },
  {
    uses: ['documents'],
    pattern:
      /\b(pdfs?|e-?books?|e-?pubs?|electronic (documents?|publications?|books?)|digital (publications?|documents?|books?|magazines?)|documents?|embed(s|ded|ding)? (it |them |the fonts? )?(in|into|within) (\w+ ){0,3}(documents?|files?|publications?)|document embedding|presentations?)\b/i,
  },
  {
    uses: ['app'],
    pattern:
      /\b(apps?|applications?(?! for| of)|games?|video ?games?|(?<!font )(?<!the )(?<!this )software(?! to| from| itself| as)|programs?|mobile|devices? (of|sold)|firmware|set-top|embedded systems?)\b/i,
  },
  {
    uses: ['customers-words'],
    pattern:
      /\b(print[- ]on[- ]demand|customi[sz]\w*|personali[sz]\w*|made[- ]to[- ]order|(customers?|buyers?|users?|visitors?|clients?)( of your \w+)? (can |may |to |who |could )?(type|types|enter|enters|choose|set|edit|edits|create|creates)|templates?|generators?|configurators?|online editors?|product creation)\b/i,
  },
  {
    uses: ['changing'],
    pattern:
      /\b(modif\w+|alter(ed|ing|ations?|s)?|convert(ed|ing|s)?|conversions?|formats?|subset\w*|derivative\w*|derived|renam\w+|rename|adapt(ed|ing|ations?)?|edit(ed|ing)?|chang(e|ed|es|ing)|decompil\w+|reverse[- ]engineer\w*|disassembl\w+|vectori[sz]e|outlines?|original name|own name|font names?|stays? as (it|they)|unchanged|intact)\b/i,
  },
  {
    uses: ['passing-on'],
    pattern:
      /\b(re-?distribut\w+|distribut\w+|shar(e|ed|es|ing)|pass(ed|ing)? (it |them )?(on|along|to)|giv(e|ing|en) (it|a copy|them|the fonts?|the files?|copies|away)|gets? (a copy|the font|the files?)|copy to|copies to|send (it|them|the font|the files?)|sent along|lend\w*|lent|rent\w*|leas(e|ed|ing)|sub-?licen[cs]\w*|transfer\w*|re-?s(ell|ale|elling|old|ales)|sell(ing)? (it|them|the|this|or)|(?<!you )sell$|sold as|up for sale|not for sale|free download|for download|third[- ]part(y|ies)(?! (services?|servers?|platforms?|tools?|websites?))|friends|others|service bureau|printer|printers|contractors?|non-?transferable|anyone else|bundle[ds]?|sharing sites?|make (it|them) available)\b/i,
  },
  {
    uses: ['design-work'],
    pattern:
      /\b(computers?|desktops?|workstations?|seats?|devices?|users?|machines?|install(ed|ing|ation|s)?|personal(ly)?|private(ly)?|layouts?|design (work|projects?)|studio|school|home use|hobby|team|office|employees?|backup)\b/i,
  },
];

const COMMERCIAL_WORK = /\b(commercial (use|work|projects?|purposes?)|commercially|client (work|projects?)|use it for commercial)\b/i;
/**
 * Words that name a use and hardly anything else. Only where one of them stands is an answer suggested; the words above find
 * what is shown.
 */
export const PLAIN_USES: Readonly<Record<Use, readonly RegExp[]>> = {
  'design-work': [/\b(computers?|desktop|workstations?|install(ed|ation)?)\b/i],
  'printed-goods': [
    COMMERCIAL_WORK,
    /\b(print|(printed|physical)( end)? (goods|products?|matter|items)|print it on|merchandise|packaging|labels|posters|t-?shirts?|tshirts?|shirts|mugs|stickers|goods|products (for sale|you sell|that you sell)|signage|end products|business cards|products for sale)\b(?![- ]on[- ]demand)/i,
  ],
  logo: [COMMERCIAL_WORK, /\b(logos?|logotypes?)\b(?! (maker|generator|editor))/i],
  website: [
    /\b(web ?sites?|web ?fonts?|web (use|embedding|pages?)|on the web|self-?host(ed|ing)?|web)\b(?! (generator|app|formats?|licen[cs]e))|@font-?face/i,
  ],
  'online-store': [
    /\b(web ?sites?|web ?fonts?|web (use|embedding|pages?)|on the web|self-?host(ed|ing)?|web|online (stores?|shops?)|web ?shops?)\b(?! (generator|app|formats?|licen[cs]e))|@font-?face/i,
    // Alone they may be rooms with a door; what is said of them then is not passed over.
    /\b(shops?|stores?|e-?commerce)\b/i,
  ],
  'design-tool': [/\bonline (design )?(tools?|editors?)\b/i],
  documents: [/\b(pdfs?|e-?books?|e-?pubs?)\b/i],
  app: [/\b(apps?|applications?|games?|software)\b(?! (maker|from|itself))/i],
  'customers-words': [/\b(print[- ]on[- ]demand|type their own)\b/i],
  changing: [
    /\b(modif(y|ying|ied|ication|ications)|alter(ed|ing)?|convert(ed|ing)?|conversion|subset|renam(e|ed|ing)|edit(ed|ing)? the fonts?|decompil(e|ing)|rename)\b/i,
  ],
  'passing-on': [
    /\b(re-?distribut(e|ed|ing|ion)|resell(ing)?|resale|re-?sold|sell(ing)? (the|this) (fonts?|files?)|shar(e|ing) the (fonts?|font files?|files?)|sub-?licen[cs](e|ed|ing)|lend(ing)?( the files?)?|rent(ing)?|transmit(ted)?|transferred|distribut(e|ing) (the|this) (fonts?|font software|software|files?)|give a copy to)\b/i,
  ],
};

/**
 * The words a plain sentence about a use is made of. One that holds any other word was not read whole, and nothing is suggested
 * from it: what is said may hang on that word.
 */
export const KNOWN_WORDS: ReadonlySet<string> = new Set(
  `a an the this these your you yours i we it its them they is are be been being may can cannot must shall will not no never nor neither either or and
   also to for in on of with as at from within all any each both every up other own please do does don’t don't dont doesn’t doesn't can’t can't cant
   isn’t isn't aren’t won’t mustn’t what following uses use used using usage user end licensee licensees licensor licence license licenses licensed font fonts
   typeface typefaces family software file files allowed allow allows allowing permitted permit permits permission granted grant grants
   right rights hereby included include includes covered cover covers free freely welcome entitled ok okay fine sure yes go ahead feel prohibited
   forbidden forbid forbids excluded disallowed unlimited any kind number quantity personal commercial commercially non-commercial purpose purposes work
   project projects client clients make made makes making create creates creating produce producing production reproduce design designs designing draw set sell selling sold
   install installed installation computer computers desktop workstation workstations device devices machine machines seats maximum limited total altogether
   print printed printing prints matter goods product products merchandise packaging package packages label labels poster posters flyer flyers sticker
   stickers mug mugs shirt shirts t-shirt t-shirts tshirt tshirts signage sign signs end-products physical items item pieces piece units copies books book magazines
   magazine business cards card menus menu brochure brochures invitations bags tote vinyl cut headline headlines sale logo logos logotype logotypes
   trademark trademarks branding website websites web-site web site sites page pages webfont webfonts web-font web-fonts self-host self-hosted embed embedded
   embedding embeds font-face domain domains views view pageviews month monthly per year online store stores shop shops tool tools editor editors upload uploaded uploading
   pdf pdfs document documents e-book e-books ebook ebooks epub epubs electronic app apps application applications game games mobile video program programs
   print-on-demand on-demand demand service services customers customer type modify modified modifying modification modifications alter altered altering
   convert converted converting conversion formats format subset rename renamed renaming edit edited editing change changed changing outlines adapt adapted decompile
   redistribute redistributed redistribution redistributing distribute distribution resell reselling resale resold share shared sharing sublicense sub-license lend lending
   rent renting give given giving copy printer printers others anyone friends into out down off server servers k one two three four five six seven eight
   nine ten single only-not way part how my me us our put place host hosted set-in extent even ask again happily happy about things mind
   that which by there their names name studio team office many you’re you're under hereunder putting get have has itself third parties party transmitted
   transmit transferred transfer offer offered download downloads woff woff2 titles title see good course absolutely million sales windows server seat something
   none show shows showing grants using do
   licensees non-exclusive`
    .split(/\s+/)
    .filter((w) => !['only-not', 'extent', 'set-in', 'my', 'me', 'us', 'our', 'ask', 'year'].includes(w)),
);

/** Ways of saying a plain thing, put plainly before a sentence is read. */
export const PLAINLY: readonly [RegExp, string][] = [
  [/\bno (permission|right)\b/gi, 'not allowed'],
  [/\bthere are no (restrictions|limits) on\b/gi, 'you may use it on'],
  [/\b(you have|you get|have|give you) (the )?permission\b/gi, 'you are allowed'],
  [/\s*\.{3,}\s*/g, ': '],
  [/\s[–—]\s(?=(?:yes|no|ok|not)\b)/gi, ': '],
];

/** What is said besides rights, and holds nothing up. */
export const SMALL_TALK =
  /^(thanks?\b|thank you|enjoy|hello|hi\b|welcome[.!]|happy|have fun|cheers|made (with|in|by)|designed (in|by)|drawn (in|by)|version \d|copyright|©|\(c\)|\d+ glyphs|use at your own risk|provided .as is.|questions\?)/i;

/** Words that allow, as a verb, a particle or an answer. */
export const ALLOWS =
  /\b(may|can|are free to|is free to|free for|free to|welcome|allowed|permitted|permits?|allows?|allowing|included|includes?|covered|covers?|granted|grants?|entitled|ok|okay|fine|yes|sure|go ahead|feel free|good for|licensed (to|for)|right to|no problem|no objection|happy about|have right|get right|you get|unlimited|valid for|limited to|free)\b/i;

/**
 * Words that deny, each found once: two in one clause may take each other back, and then nothing is suggested. "Neither ... nor"
 * is one denial.
 */
export const DENIALS =
  /\b(neither\b[^.;]{1,120}\bnor|not|never|nor|cannot|no|none|without|forbid\w*|forbade|prohibit\w*|disallow\w*|exclud\w*|illegal|refuse\w*|ban(s|ned)?|void|off limits|prevents?|bar(s|red)?|object|breach|nothing|nobody|no one|nowhere|against|dont|cant|doesnt|isnt|wont|mustnt|[a-z]+n[’']t|non-?commercial|isn[’']t)\b/gi;

/** Denials that deny nothing, taken out before denials are counted. */
export const HARMLESS =
  /\b(not only|not even|no (problem|objections?)|(do|does|would) not mind|don[’']t mind|(but )?(no|not) more than|included in the price|no (cost|charge|extra cost|additional cost|limits?|restrictions?|more than|fee)|not more than|not limited to|without (charge|cost|restrictions?|limits?|limitation)|non-?(exclusive|transferable)|no matter|not to mention|at no cost)\b/gi;

/** What may turn, narrow or condition a sentence. Where one of these stands nothing is suggested, and a person reads. */
export const TURNS =
  /\b((we|i) (may|can)|will|used to be|going to|plans? to|soon|in (the )?future|next (week|month|year)|for (your|the|his|her|their|a) (own )?(family|friends?|kids|children|club|school|class|church|parish|wedding|hobby|town|neighbou?rs?)|if|unless|provided|providing|subject to|as long as|so long as|only|once|after|until|while|during|when|where|whenever|before|except|exception|excepting|excluding|apart from|other than|but|however|though|although|notwithstanding|nevertheless|nonetheless|despite|otherwise|instead|rather|beyond|foregoing|the above|aforementioned|section|appendix|schedule|clause|yet|later|currently|for now|beta|trial|demo|evaluat\w*|sample|test(ed|ing)?|preview|temporar\w*|expire\w*|ends|such as|those|certain|some|special|another|any other|separate\w*|additional|extended|upgrade\w*|premium|pro version|full version|add-?ons?|extension|package|payment|pay(s|ing)?|paid|bought|buy(s|ing)?|purchas\w*|fees?|costs?|price[sd]?|donat\w*|order(s|ed)?|invoice|subscription|subscrib\w*|register\w*|shareware|beer|coffee|euros?|eur|usd|dollars?|permission|permit from|consent|agreement|approval|approved|agree|ask|asking|contact|write (to )?(me|us)|e-?mail|mail|students?|teachers?|schools?|non-?profits?|charit\w+|companies|company|corporat\w*|employees|persons?|individuals?|private(ly)?|personal(ly)?|hobby|home|non-?commercial(ly)?|internal|credit\w*|attribut\w*|mention|named on|in my (name|opinion)|another matter|circumstances?|reason|believe|hope|wish|should|would|could|might|perhaps|possible|possibly|available|intend\w*|supposed|read as|say that|what you hold|did not buy|didn[’']t buy|you own|received|union|country|territor\w*|within)\b|[$€£¥]|\d ?%|\([^)\d]/i;

/** Licenses and kinds of them that a sentence may speak of instead of this one. */
export const OTHER_LICENSE =
  /\b(OFL|open font licen[cs]e|apache|GPL|general public|MIT|creative commons|CC[- ]BY\w*|public domain|unlike|compared (with|to)|in contrast|as opposed|whereas|(web|app|desktop|broadcast|e-?book|commercial|extended|corporate|enterprise|server|studio|free|basic|standard|print|different|other) (licen[cs]es?|version|edition))\b/i;

/** Objects other than the font file: what is said of them is not said of it. */
export const OTHER_OBJECT =
  /\b((an?|any|the|your|our|this|another|some) (app|application|program|browser|website|page)s? (to|that|which)|with (an?|any|the|your|our|this|another|some) (app|application|program|browser)s?|artworks?|drawings?|pictures?|images?|screenshots?|text to outlines|the (text|shapes|letterforms)|this (file|document|readme)|a copy of this|(print|read|keep|remove) (this|the) licen[cs]e|documents (made|created|set)|(our|my) (website|site|shop|store|online store|foundry|logo|name|app|preview app|page)|name and logo|cookies|privacy|refunds?|instructions|backups?|size, color|spacing|font editing|generators?)\b/i;

/** What stands above every use when it is said: who may, since when, how long, for what at all. */
export const GENERAL =
  /\b(personal use|private use|non-?commercial use|personal using|trial|demo|evaluation|beta|sample|shareware|subscription|until then|once (your|the) (order|payment)|named on the invoice|valid (in|for|until|only)|(the )?above is|free version|paid version|basic licen[cs]e|for viewing only|students?|teachers?|everyone else|not for|terminat\w*|may end this|destroy all|remove the fonts?)\b/i;

/** What takes back or turns what stands elsewhere, whatever use it names itself. */
export const CROSSES =
  /\b(except|exception|excepting|(is|are) excluded|the above|foregoing|notwithstanding|nevertheless|nonetheless|however|void|otherwise|section \d+|clause \d+|does not (hold|extend|apply)|do not (hold|extend|apply)|appendix|(this|these|the) (text|terms|licen[cs]e|agreement|grant|permission|rights?) (may|can|will|shall) |note (that|however)|please note|employees|you (are reading|received|own|hold)|whatever, but|though)\b/i;

/** Words that take up what was said before. */
export const POINTS_BACK =
  /\b(it|this|that|these|those|they|them|one|such|same|above|foregoing|former|latter|so|these|neither|he|she|until then)\b/i;

/** What says that only a person's own purposes are meant; where commerce is named beside it, both are. */
export const PERSONAL = /\b(personal(ly)?|private(ly)?|home|hobby|non-?commercial(ly)?)\b/i;
export const COMMERCE = /(?<!non-?)\bcommercial(ly)?\b/i;

/** Answers, at the beginning of a sentence that follows a question. */
export const SAYS_YES =
  /^(yes|yep|sure|of course|certainly|absolutely|go ahead|ok|okay|you (may|can)|it is fine|by all means|no problem|we do(?! not|n))\b/i;
export const SAYS_NO =
  /^(no|nope|sorry|never|he may not|she may not|they may not|you (may|can) ?not|unfortunately|we do not|we don[’']t|absolutely not)\b/i;
/** A question that asks for leave. */
export const ASKS_LEAVE = /\b(can|may|allow(ed)?|permitted|included|covered|ok|okay|fine|free|use)\b/i;
/** A question after whose yes or no one still has to think. */
export const ASKS_OTHERWISE = /\b(n[’']t|not|forbidden|prohibited|need|have to|must|pay|cost|which|what|how|who|when|where|credit)\b/i;

/** A count in digits alone, as `countsIn` writes it, or in words. */
const NUMBER = '(\\d+|one|single|two|three|four|five|six|seven|eight|nine|ten|twelve|fifteen|twenty|fifty|a hundred|hundred|a thousand)';
const amount = (unit: string): RegExp =>
  new RegExp(`\\b${NUMBER}(?:\\s\\((?:\\d+|[a-z]+)\\))?\\s(?:(?!per |each |a )[a-z-]+\\s){0,2}?(?:${unit})\\b`, 'gi');
/** "Seats: 2", "How many computers? Five." */
const named = (unit: string): RegExp => new RegExp(`\\b(?:${unit})\\s?(?::|\\?)\\s(?:up to\\s)?${NUMBER}\\b`, 'gi');

/** What is counted: the field it fits, its unit in words, and how it is written. */
export const AMOUNTS: readonly { limit: Limit | null; unit: string; patterns: readonly RegExp[] }[] = [
  {
    limit: 'website',
    unit: 'page views',
    patterns: [amount('page ?views?|views|impressions|visits'), named('page ?views?|views')],
  },
  {
    limit: 'design-work',
    unit: 'seats',
    patterns: [
      amount('computers?|users?|seats?|devices?|workstations?|machines?|installations?|cpus?'),
      named('computers?|users?|seats?|devices?|workstations?'),
    ],
  },
  { limit: 'website-domains', unit: 'domains', patterns: [amount('domains?'), named('domains?')] },
  { limit: null, unit: 'websites', patterns: [amount('web ?sites?|sites?'), named('web ?sites?')] },
  {
    limit: 'printed-goods',
    unit: 'pieces',
    patterns: [amount('pieces|units|copies|items|prints|products?|impressions on paper'), named('pieces|units|copies')],
  },
  { limit: 'documents', unit: 'titles', patterns: [amount('e-?books?|e-?pubs?|publications?|e-?book titles?')] },
  { limit: 'app', unit: 'titles', patterns: [amount('apps?|applications?|games?|programs?')] },
  { limit: null, unit: 'logos', patterns: [amount('logos?')] },
  { limit: null, unit: 'months', patterns: [amount('months?')] },
  { limit: null, unit: 'years', patterns: [amount('years?')] },
  { limit: null, unit: 'days', patterns: [amount('days?')] },
];
export const TITLES = amount('titles?');
export const MONEY =
  /(?:([$€£¥])\s?(\d+(?:[.,]\d{1,2})?))|(\d+(?:[.,]\d{1,2})?)\s?([$€£¥]|eur(?:os?)?|usd|dollars?|pounds?|gbp)\b|(\d+(?:[.,]\d{1,2})?)\s?([€£¥$])/gi;
export const NUMBER_WORDS: Readonly<Record<string, number>> = {
  one: 1,
  single: 1,
  two: 2,
  three: 3,
  four: 4,
  five: 5,
  six: 6,
  seven: 7,
  eight: 8,
  nine: 9,
  ten: 10,
  twelve: 12,
  fifteen: 15,
  twenty: 20,
  fifty: 50,
  hundred: 100,
  'a hundred': 100,
  'a thousand': 1000,
};

/** What is asked in return. */
export const OBLIGES: readonly RegExp[] = [
  /\b(must|shall|have to|need to|required to|please|provided)\b.{0,40}\b(credit|attribut\w+|link|mention|acknowledge)\b/i,
  /\b(include|keep|pass|accompan\w+|reproduc\w+)\b.{0,60}\b(this|the) (licen[cs]e|copyright|notice|read ?me|text file)\b/i,
  /\b(credit|attribution)\b.{0,20}\b(is )?(required|appreciated|mandatory)\b/i,
  /\b(keep|leave)\b.{0,30}\b(unmodified|unchanged|intact)\b/i,
];
