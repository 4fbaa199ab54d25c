import type { Use } from '../uses.js';

/** Words by which sentences beside a license name a use. Common practice in the notes of makers and sellers. */
export const USE_PATTERNS: readonly { uses: readonly Use[]; patterns: readonly RegExp[] }[] = [
  {
    // What is sold or stands for a business is what "commercial" is about.
    uses: ['printed-goods', 'logo'],
    patterns: [
      /\bcommercial(ly)?\b/i,
      /\bfor profit\b/i,
      /\bclient (work|projects?)\b/i,
      /\bmonetary gain\b/i,
      /\bmake money\b/i,
      /\bbusiness (use|purposes?)\b/i,
    ],
  },
  {
    uses: ['printed-goods'],
    patterns: [
      /\b(print(ed|s)?(?![- ]on[- ]demand)|merchandise|products? for sale|physical (goods|products|items|end products)|t-?shirts?|mugs|apparel|packaging|labels|posters|stickers|signage|signs|end products? (for|you) s(ale|ell)|goods (you|that you|we) sell|items for resale)\b/i,
    ],
  },
  { uses: ['logo'], patterns: [/\blogo(type)?s?\b/i, /\btrade ?marks? (design|of your)\b/i, /\bbranding\b/i] },
  {
    uses: ['website', 'online-store'],
    patterns: [
      /\bweb ?(font|fonts|site|sites|page|pages|embedding|use|server)\b/i,
      /@font-face/i,
      /\bself-?host/i,
      /\bpage ?views?\b/i,
      /\bon (the|a|your) (web|domain)\b/i,
      /\bdomains?\b/i,
    ],
  },
  { uses: ['online-store'], patterns: [/\bonline (store|shop)s?\b/i, /\be-?commerce\b/i, /\bweb ?shops?\b/i] },
  {
    uses: ['design-tool'],
    patterns: [
      /\bupload(ed|ing)?\b/i,
      /\bonline (design|editing) (tool|service|program|platform)s?\b/i,
      /\bthird[- ]party (service|server|platform|tool)s?\b/i,
      /\bcloud\b/i,
    ],
  },
  {
    uses: ['documents'],
    patterns: [
      /\bPDFs?\b/,
      /\be-?books?\b/i,
      /\be-?pub\b/i,
      /\b(embed|embedded|embedding) (it )?(in|into|within) (\w+ ){0,3}documents?\b/i,
      /\bdocument embedding\b/i,
    ],
  },
  {
    uses: ['app'],
    patterns: [/\bapps?\b/i, /\bapplications?\b(?! of)/i, /\bgames?\b/i, /\bsoftware (products?|titles?)\b/i, /\bmobile\b/i],
  },
  {
    uses: ['customers-words'],
    patterns: [
      /\bprint[- ]on[- ]demand\b/i,
      /\bcustomi[sz](e|ed|ation|able)\b/i,
      /\bpersonali[sz](e|ed|ation)\b/i,
      /\bcustomers? (can |may |to )?(type|enter|choose|set)\b/i,
      /\bend[- ]users? (can |may |to )?(type|enter|create)\b/i,
      /\bproduct creation\b/i,
    ],
  },
  {
    uses: ['changing'],
    patterns: [
      /\bmodif(y|ied|ications?)\b/i,
      /\balter(ed|ations?|ing)?\b/i,
      /\bconvert(ed|ing)?\b/i,
      /\bsubset(ting|s)?\b/i,
      /\bderivative\b/i,
      /\brename\b/i,
      /\badapt(ed|ations?)?\b/i,
      /\b(edit|change) the (font|file)/i,
      /\breverse[- ]engineer/i,
    ],
  },
  {
    uses: ['passing-on'],
    patterns: [
      /\bredistribut(e|ed|ion|ing)\b/i,
      /\bshare(d)? (it|the font|this font|the files?|with)\b/i,
      /\bpass(ed)? (it )?on\b/i,
      /\b(give|send|supply|provide) (a copy|the font|it|them|the files?|copies) to\b/i,
      /\bservice bureau\b/i,
      /\btransfer(red)?\b/i,
      /\bsub-?licens/i,
      /\blend\b/i,
      /\bresell|re-sell\b/i,
      /\bto (your|a|the) printers?\b/i,
    ],
  },
  {
    uses: ['design-work'],
    patterns: [
      /\bcomputers?\b/i,
      /\bdesktop\b/i,
      /\bworkstations?\b/i,
      /\bseats?\b/i,
      /\bdevices?\b/i,
      /\b(?<!non-)personal\b/i,
      /\bdesign (work|projects?)\b/i,
      /\binstall(ed|ing)?\b/i,
    ],
  },
];

/** What turns a sentence into a no. */
export const FORBIDS: readonly RegExp[] = [
  /\b(may|can|must|shall|should|will|do|does|is|are|was|were|has|have|could|would)\s+(\w+\s+)?(not|never)\b/i,
  /\b(can|do|does|is|are|must|should|wo|would)n[’']?t\b/i,
  /\bcan(not|[’']t)\b/i,
  /\b(is|are) not\b/i,
  /\b(do|please) not\b/i,
  /\bnot\s+(\w+\s+){0,2}(allowed|permitted|included|covered|licensed|granted|available|intended|free|authori[sz]ed|for|use|used)\b/i,
  /\b(prohibit(ed|s)?|forbid(s|den)?|disallow(ed|s)?|exclud(ed|es)|illegal|banned|strictly personal|off limits|restricted from)\b/i,
  /\bno\s+(\w+\s+){0,3}(use|usage|embedding|redistribution|modifications?|resale|logos?|apps?|web|right|license|licence)\b/i,
  /\b(never|nor|neither|without the right)\b/i,
  /\bnon-?commercial\b/i,
];

/** What says that more must be bought or asked for first. */
export const NEEDS_LICENSE: readonly RegExp[] = [
  /\b(require|requires|required|need|needs|needed|must (buy|purchase|obtain|have|get|acquire)|have to (buy|purchase|obtain|get)|please (buy|purchase|get|obtain))\b.{0,60}\b(licen[cs]es?|permission|consent|fee|payment|agreement)\b/i,
  /\b(licen[cs]es?|permission|consent|fee|payment|donation)\b.{0,40}\b(is|are)?\s*(required|needed|necessary|mandatory)\b/i,
  /\b(sold|available|offered|licensed) separately\b/i,
  /\b(separate|additional|extended|special|extra|commercial|different) licen[cs]es?\b/i,
  /\b(buy|purchase|order)\b.{0,30}\b(full|commercial|complete) (version|font|license)\b/i,
  /\bcontact (me|us|the (author|designer|maker))\b.{0,40}\b(for|before|if)\b/i,
  /\bwithout\b.{0,50}\b(permission|consent|licen[cs]e|authori[sz]ation)\b/i,
  /\bunless\b/i,
  /\b(free|allowed|ok) only (after|with|once)\b/i,
];

/** What allows. */
export const ALLOWS: readonly RegExp[] = [
  /\b(may|can)\s+(also\s+|freely\s+)?(be\s+)?(use|used|install|installed|embed|embedded|modify|modified|convert|converted|share|shared|redistribute|redistributed|make|create|print|sell|sold|include|included|upload|uploaded|host|change|changed|adapt|send|give|pass|subset|copy|copied|type|set|place|put|design|produce)\b/i,
  /\b(allowed|permitted|free|welcome|licensed|entitled) (to|for|in|on)\b/i,
  /\b(is|are) (allowed|permitted|included|covered|granted|fine|ok|okay)\b/i,
  /\b(allows?|permits?|covers?|includes?|grants?) (you |the |use |unlimited |up to |any |both |all |personal |commercial |web|desktop|embedding|installation)/i,
  /\bfree (for|of charge for)\b/i,
  /\b(use|usage)\b.{0,30}\bis (free|allowed|permitted|fine)\b/i,
  /\bno (restrictions?|limits?|limitations?) on\b/i,
  /\bwithout (any )?(restrictions?|limits?)\b/i,
  /\b100% free\b/i,
  /\bgo ahead\b|\bfeel free to\b/i,
  /\b(licensed|valid|good) for\b/i,
];

/** What makes a yes depend on something. */
export const CONDITIONS: readonly RegExp[] = [
  /\bif\b/i,
  /\bprovided\b/i,
  /\bas long as\b/i,
  /\bsubject to\b/i,
  /\bonce (you|it)\b/i,
  /\bwith (my|our|the|prior|written)\b.{0,30}\b(permission|consent|approval)\b/i,
  /\bafter (paying|purchas|buying|a donation)\b/i,
  /\b(trial|evaluation|demo|testing) (period|version|purposes?)\b/i,
  /\buntil\b/i,
  /\bduring\b/i,
  /\bmight|perhaps|in some cases|certain\b/i,
];

/** Phrases that hold a "not" or a "no" and deny nothing; they are taken out before the direction is read. */
export const SOFTENERS: readonly RegExp[] = [
  /\b(but |including,? but )?not limited to\b/gi,
  /\bnot only\b/gi,
  /\bnot (prohibited|forbidden|restricted|excluded)\b/gi,
  /\b(do|does)(n[’']t| not) mind\b/gi,
  /\bno (problem|cost|charge|fee|strings attached|matter)\b/gi,
  /\bat no (extra |additional )?(cost|charge)\b/gi,
  /\bwithout (any )?(charge|cost|fee|attribution|asking|further permission)\b/gi,
  /\b(does|do) not (have to|need to|require)\b/gi,
  /\bno (attribution|credit|permission|licen[cs]e) (is )?(required|needed|necessary)\b/gi,
  /\bnon[- ]exclusive\b/gi,
];

/** Words of money, time, people and doubt that hold nothing back; they are taken out before `HOLDS` is looked for. */
export const HARMLESS_BESIDE: readonly RegExp[] = [
  /\b(free of|without|at no|no) (any )?(extra |additional )?(charges?|costs?|fees?|payments?|royalt(y|ies))\b/gi,
  /\broyalty-free\b/gi,
  /\b(do|does|need|must|have) ?(not|n[’']t|never)( have| need)?( to)? (pay|buy|ask|purchase)\b( for)?/gi,
  /\bwithout (paying|asking)\b/gi,
  /\bbuy (me|us) an? \w+/gi,
  /\b(pay|give|donate) what (you|ever)\b/gi,
  /\bpaid for by\b/gi,
  /\b(not only|read-only|only if you (want|like))\b/gi,
  /\bnever expires?\b/gi,
  /\b(may|can|must|shall) (also )?(not )?be sold\b/gi,
  /\bsold (by itself|by themselves|on its own)\b/gi,
  /\b(files?|lists?|sections?|lines?|chapters?|names?|words?) (ends?|begins?)\b/gi,
  /\bcontact (us|me)\b(?=.{0,30}\b(questions?|bugs?|feedback)\b)/gi,
  /\b(if|before) you( would| want| wish|[’']d)?( to| like( to)?)? (have|find|found|see|notice|spot|encounter|meet|run into|need help|help|contribute|report|join|suggest|translate|improve|fork|build|miss|open an issue)\b[^.!?]*/gi,
];

/** What holds every use back beside a known license: money, an end, a circle of people, a trial, a question to be asked first, a part that is meant. */
export const HOLDS: readonly RegExp[] = [
  /\b(pays?|paying|payments?|paid|payable|fees?|royalt(y|ies)|surcharges?|prices?|priced|invoices?|quotes? for|a quote|subscriptions?|subscribers?|patrons?)\b/i,
  /\b(costs?|charges?|charged) (you |us |extra|more|less|nothing until|\d|\w+ (euros?|dollars?|pounds?))/i,
  /\b(we|i) charge\b/i,
  /\b(is|are|costs?|at) (an )?extra\b/i,
  /(?:[$€£¥]\s?\d|\d\s?(?:[$€£¥]|eur(?:os?)?\b|usd\b|dollars?\b|pounds?\b|gbp\b))/i,
  /\b(must|have to|need to|please|should|may|can) (buy|purchase|order|subscribe|register|renew|apply)\b/i,
  /\b(send|give|owe)s? (us|me|the author|back) (a|an|the|some|half|part|\d)/i,
  /\b(sold|licensed|available|offered) separately\b|\b(is|are) (being )?sold\b|\bfor sale\b/i,
  /\b(expires?|expired|expiry|renew(al|ed|s)?|valid (until|till|through|for)|ends? (on|after|in|with|when)|until (the|you|your|\d)|for (a|one|\d+) (days?|weeks?|months?|years?)|(after|within) (a|one|\d+) (days?|weeks?|months?|years?))\b/i,
  /\b(trial|demo|evaluation|preview|beta|test(ing)?) (version|font|copy|file|licen[cs]e|use|period|purposes?)\b|\bfinal (release|version) before\b/i,
  /\b(only|solely|exclusive(ly)?|restricted|limited|reserved) (to|for|by|in|within|with)\b/i,
  /\bonly (the|this|these|those) [\w ]{1,40}?\b(is|are|may|can) (be|under|licensed|free|covered|released|included)\b/i,
  /\b(use|uses|usage|students?|members?|schools?|teachers?|customers?|clients?|companies|people|persons|individuals|purposes?) only\b/i,
  /^(only )?for (schools?|students?|members?|teachers?|charit\w+|non-?profits?|subscribers?|customers?|clients?|education\w*|individuals?)\b/i,
  /\b(ask|contact|write( to)?|e-?mail|get in touch|talk to|tell) ?(me|us|the \w+|first)?\b.{0,40}\b(before|if you|if your|first|for a (quote|licen[cs]e)|to use)\b/i,
  /\b(before|if) (you|your|using|use)\b.{0,60}\b(ask|contact|write to|e-?mail|get in touch|talk to)\b/i,
  /\b(compan(y|ies)|business(es)?|organi[sz]ations?|agenc(y|ies)|corporations?)\b.{0,60}\b(need|needs|require|must|should|write|contact|with more than|over|larger)\b/i,
  /\b(other|remaining|further) (weights?|styles?|fonts?|files?|faces?|cuts?)\b.{0,40}\b(sold|paid|separate|not|commercial)\b/i,
  /\b(applies|apply) (only )?to\b.{0,60}\b(and|but|not) (the )?(name|rest|others?|drawings?|code|fonts?)\b/i,
  /\b(unlocks?|once your|earn(s|ed)? money)\b/i,
];

const COMMERCIAL: readonly Use[] = ['printed-goods', 'logo'];
const SERVED: readonly Use[] = ['website', 'online-store', 'app', 'design-tool'];

/** Sentences that mean only some uses, and so deny the others. */
export const ONLY: readonly { pattern: RegExp; allows: readonly Use[]; asks?: readonly Use[]; denies: readonly Use[] }[] = [
  {
    pattern:
      /\b(personal|private|non-?commercial|home|hobby)\s+(and (private|non-?commercial|educational) )?(use|projects?|purposes?|work)\s+only\b|\bonly\s+(be used\s+)?(free\s+)?(for|in)\s+(your\s+)?(personal|private|non-?commercial)\b|\bfree for (personal|private|non-?commercial)\s+(use|projects?|purposes?)\b(?!.{0,40}\bcommercial\b)|\bsolely for (personal|private|non-?commercial)\b/i,
    // A business that draws for its own packets is not a person at home: whether that counts has to be asked.
    allows: [],
    asks: ['design-work'],
    denies: COMMERCIAL,
  },
  { pattern: /\bdesktop (use|licen[cs]e) only\b|\bonly (for|on) desktop\b/i, allows: ['design-work'], denies: SERVED },
  {
    pattern: /\b(web|webfont) (use|licen[cs]e) only\b|\bonly (for use )?as a web ?font\b/i,
    allows: ['website'],
    denies: ['app', 'documents'],
  },
  {
    pattern:
      /\b(trial|demo|evaluation|test(ing)?) (use|version|purposes?|font)?\s*only\b|\bfor (testing|evaluation|trial) (purposes )?only\b/i,
    allows: [],
    denies: [...COMMERCIAL, ...SERVED],
  },
];

/** Words that allow a use to a person and leave open whether a business is one. */
export const PERSONAL = /\b(personal|private|(?<!not )non-?commercial|home|hobby)\b/i;
export const NOT_ONLY_PERSONAL = /(?<!non-?)\bcommercial/i;
