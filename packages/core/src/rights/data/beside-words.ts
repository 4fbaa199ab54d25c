/**
 * Kinds of words that a sentence beside a license may hold something back with, by how they begin. A word of no kind is harmless
 * only where it is in the vocabulary that was gathered (`harmless-words.ts`).
 */

/** Words of money, circles of people, trials, prohibitions and doubt: one is enough. */
export const HOLDING =
  /^(?:non-?)?(?:commerc|personal|privat|propriet|trial|demo$|demos$|demonstration|evaluat|shareware|freeware|donationware|careware|postcardware|nonprofit|profit|student|pupil|school|college|educat|teach|academ|scholar|compan(?:y|ies)|corporat|business|enterprise|startup|freelanc|agenc|institut|organi[sz]ation|employ|staff|member|individuals$|consumer|customer|client|subscrib|subscription|patron|donat|sponsor|pay|paid|unpaid|pric|fee$|fees$|cost|charg|purchas|buy|bought|sell|sold|sale|resale|resell|merchandis|vendor|retail|money|monet|dollar|euro$|euros$|pound$|pounds$|cents?$|royalt|invoic|revenue|income|turnover|earn|prohibit|forbid|forbad|illegal|unlawful|restrict|permi|consent|authori[sz]|unauthori|entitl|exclusiv|supersed|supplant|overrul|terminat|revok|rescind|cancel|expir|withdr|void$|invalidat|infring|violat|breach|confiden|secret|classified|nda$|trademark|patent|leas(?:e|ed|ing)$|rent$|rents$|rental|rented|loan|lend|lent$|borrow|amateur|hobb|household|charit|church|government|militar|politic|religio|citizen|resident|nation$|adult|minors$|child|owner|ownership|owned|belong|wait$|waits$|test$|attribut|courtes|consult|lawyer|attorney|court|jurisd|liab|indemn|penalt|fine$|fines$|prosecut|damag|disput|arbitrat|obligat|negotiat|quotes? for$|estimate$|seat$|seats$|cpu|workstation|pageview|impression|tier|premium|basic-only|lite$|full-version|upgrade$|unlock|watermark|disclos|ambassad|beneficiar|transfer|sublicen|heir|estate|nobody|anyone|anybody|everyone|everybody|whoever|somebody|someone|third-part|third-party|party$|parties$|exempt|waive|moral|noncommerc|geschäft|gewerb|testversion|unverk|untersag|verbot|erlaub|lizenz|nutzung|gebrauch|verwend|kommerz|schul|firma|firmen|kund|mitglied|verein|privatgebr|gratuit|kostenlos|kostenfrei|unentgelt|nur$|nicht$|kein|uniquement|seulement|solo$|sólo$|nie$|tylko|niet$|alleen|não$|apenas|non$|senza|ohne$|sans-autor|senza)/i;

/** Words of licenses and rights: only where they point to the license that stands there. */
export const RIGHTS =
  /^(?:re)?(?:licen[cs]|unlicen|right$|rights$|legal|law$|laws$|agreement|contract|terms$|eula|grant|disallow|copyright|copyleft|own$|owns$|reserv|free$|freely|freedom|gpl|lgpl|agpl|ofl|lppl|public-domain|condition|clause|compl(?:y|ies|ied|iance)|statement|declar|polic(?:y|ies)|notice|dual|warrant|claim|waiv|accept$|accepts$|accepted|accepting|agree)/i;

/** Words of what one does with a font. */
export const USING =
  /^(?:re(?!view|ad|sen|makes?)|un|mis)?(?:use$|uses$|used$|using$|usage|user|users|usable|utili[sz]|appl(?:y|ies|ied)$|install|embed|distribut|redistribut|shar(?:e|es|ed|ing)$|cop(?:y|ies|ied|ying)$|reproduc|modif|deriv|convert|merg|bundl|host|upload|download|publish|broadcast|perform|transmi|exploit|deploy|includ|incorporat|embody|giv(?:e|es|en|ing)$|pass$|passed$|send|provid|suppl(?:y|ies|ied)$|offer|alter|adapt|rename|subset|duplicat|display|access|obtain|receiv|keep|put$|make$|making$|made$|creates?$|created$|creating$|read$|view|work$|works$|run$|play|save|store$|stored$|post$|posted$)/i;

/** Places and things in which a font is used. */
export const PLACES =
  /^(?:web|website|websites|site$|sites$|page$|pages$|print|prepress|logo|brand|app$|apps$|application|game|gaming|software|programs?$|product|document|pdf|e-?book|book|desktop|laptop|computer|device|machine|phone|mobile|tablet|server|online|offline|internet|intranet|cloud|media|video|film|movie|televis|tv$|streaming|advert|campaign|signage|sign$|signs$|packag|goods|shirt|t-shirt|mug$|mugs$|poster|sticker|label|flyer|card$|cards$|home$|office|shop|stor(?:e|es)$|market|project|purpose|client|service|platform|template|theme|artwork|design-tool|social|newsletter|magazine|newspaper|wedding|invitation|event|theat|radio|school|internal|external|public$|outside|inside)/i;

/** Words that deny, bind, limit or ask. */
export const BINDING =
  /^(?:only|not|n['’]t|.*n['’]t|cannot|no|never|none|nor|neither|must|may|shall|should|ought|need|needs|needed|requir.*|without|unless|except.*|exclud.*|until|till|provided|providing|if|solely|merely|just|strict.*|limit.*|unlimited|before|first|prior|ask.*|contact.*|request.*|please|subject|separate.*|instead|otherwise|however|but|although|though|any|anything|all|each|every|as|long|always|kindly|can|could|might|will|would|let|have|has|got|want|wish|with|within|per|whether|when|once|after|during|temporar.*|currently|for|to|additional|further|extra|other|another|different|special|certain|particular|specific|own|same)$/i;

/** Binding words that are worth something only beside stronger ones; on their own they are how sentences are made. */
export const MILD =
  /^(?:any|anything|all|each|every|as|long|can|could|might|will|would|let|have|has|got|want|wish|with|within|per|whether|when|once|after|during|currently|for|to|additional|further|extra|other|another|different|special|certain|particular|specific|own|same|but|although|though|however|instead|otherwise|always|first|before|just|if|please|should|need|needs|needed|may)$/i;

/** Words of a sentence that says which license stands there, beside names, addresses and titles of licenses. */
export const POINTING =
  /^(?:this|that|these|those|the|a|an|is|are|was|were|be|been|has|have|and|or|of|in|at|on|by|it|its|they|their|both|here|below|above|copied|included|attached|accompanying|enclosed|reproduced|bundled|along|together|within|inside|under|with|without|as|per|via|version|versions|v|later|newer|any|either|option|your|you|font|fonts|fontset|software|typeface|typefaces|family|families|files?|project|package|packages|work|works|program|repository|distribution|archive|folder|directory|zip|glyphs|outlines|icons|set|licen[cs]e|licen[cs]es|licen[cs]ed|licensing|relicensed|released|re-released|distributed|redistributed|published|provided|made|covered|governed|placed|put|terms|conditions|provisions|text|texts|copy|copies|full|complete|whole|entire|exact|official|original|english|latest|current|see|read|refer|consult|check|view|found|find|get|obtain|available|also|now|more|details|detail|information|info|notes?|please|faq|faqs|questions|frequently|asked|website|site|page|online|url|web|copyright|copyrights|notice|notices|holder|holders|author|authors|owner|owners|copyrighted|rights|reserved|all|free|freely|libre|open|source|opensource|permissive|following|respective|same|which|can|may|should|must|will|if|not|for|from|to|created|designed|made|maintained|new|first|publicly|there|debian|systems?|usr|share|common-licenses|dual|dual-licensed|double|choice|choose|redistribute|modify|use|used|using|study|share|part)$/;
/** Words of those that turn what is said when they stand where no pointing sentence has them. */
export const TURNING = /\b(?:not|to|for|must|should|may|if|from|without|use|used|using|first|part|owners?|obtain|get)\b/i;
/** Phrases in which such words point all the same; they are taken out before the rest is read. */
export const POINTING_PHRASES: readonly RegExp[] = [
  /\bfree to use(?: and (?:share|modify|redistribute|study))*\b/gi,
  /\b(?:please )?(?:see|read|refer to|consult|check|view|cf\.?)(?: also)? (?:the )?(?:file |included |attached |accompanying )*/gi,
  /\bfor (?:more |further |full |complete |the )*(?:details?|information|info|terms|text|license(?: text| terms| details| information)?|copying conditions|copyright(?: information)?)\b/gi,
  /\byou (?:should|must|may|can|will) (?:have received|find|also find|see|obtain)(?: a copy of)?\b/gi,
  /\b(?:a copy of which|which) (?:can|may) be (?:found|obtained|read)\b/gi,
  /\b(?:can|may|should|is to) (?:also )?be (?:found|obtained|read|seen)\b/gi,
  /\bif not, (?:see|write to|visit)\b/gi,
  /\b(?:at your (?:option|choice)|\(?at your option\)? any later version|or \(at your option\))/gi,
  /\byou (?:can|may) (?:re)?distribute (?:it |them |this \w+ )?and\/or modify (?:it|them|this \w+)\b/gi,
  /\b(?:can|may) be (?:freely )?(?:used|copied|distributed|redistributed|modified|shared)(?:(?:,| and| or|\/| and\/or)* ?(?:used|copied|distributed|redistributed|modified|shared))*\b/gi,
  /\b(?:according|subject|pursuant) to the (?:terms|conditions)\b/gi,
  /\bas published by the (?:free software foundation)?/gi,
  /\bis part of all distributions of (?:la)?tex\b(?: version)?/gi,
];
/** Titles of licenses. */
export const TITLES =
  /\b(?:SIL[ -]?(?:International)?[ -]?(?:Open[ -]Font[ -]Licen[cs]e|OFL)|(?:the )?(?:SIL )?Open Font Licen[cs]e|SIL[-_ ]OFL|OFL|SIL)(?:,?[-_ ]{0,2}\(?(?:(?:ver(?:sion|\.)?|v)[-_ ]{0,2})?1\.[01]\)?)?\b/gi;
/** Things beside the fonts, which may have licenses of their own. */
export const OTHER_PARTS =
  /\b(?:debian packaging|debian\/?\*?|packaging|support files?|(?:la)?tex (?:support|files?|package|macros|code|style|interface)|style files?|font (?:metrics|definition files?)|metrics|map files?|encoding files?|scripts?|build (?:scripts?|tools?|system|files)|tools?|source code|the code|code|programs?|utilit(?:y|ies)|makefiles?|documentation|docs|manual|readme|website|web ?site|site|css|less|sass|javascript|stylesheets?|examples?|demo page|specimen|images?|logos?|test(?:s| files)?|other files|remaining files|package itself|latex package|install(?:er|ation) scripts?)\b/i;

/** Words of use and place that say nothing in a heading or label. */
export const LABELS =
  /^(?:install|installation|installing|package|packages|usage|includes?|included|including|downloads?|downloading|making|make|website|homepage|documentation|document|read|view|viewing|page|pages|program|software|provided|provides|created|creating|project|application|copying|building|label|labels|work|working|receiving|updating|sending|store|converting|conversion|adapted|modifications?|card)$/i;
/** What a sentence speaks of when it speaks of letters and how they are drawn, set or made. */
export const TECHNICAL =
  /^(?:glyphs?|characters?|letters?|letter-?forms?|alphabets?|kern(?:s|ing|ed)?|hint(?:s|ing|ed)?|ttfautohint|encodings?|encoded|compil\w+|build(?:s|ing)?|built|director(?:y|ies)|folders?|unicode|opentype|open-?type|truetype|postscript|type1|metafont|features?|ax[ie]s|metrics|mapp(?:ing|ings|ed)|tables?|code ?points?|diacritics?|ligatures?|alternates?|swash(?:es)?|figures|numerals?|digits?|fractions?|superiors?|inferiors?|superscripts?|subscripts?|small-?caps?|capitals?|uppercase|lowercase|weights?|italics?|bold|obliques?|upright|roman|condensed|light|medium|black|thin|math|mathematic\w*|symbols?|dingbats?|icons?|emoji|serif\w*|sans|sans-serif|slab|mono\w*|proportional|tabular|spacing|spaced|sidebearings?|anchors?|outlines?|contours?|curves?|splines?|b[eé]zier|strokes?|stems?|terminals?|counters?|bowls?|x-height|ascenders?|descenders?|baselines?|line-?height|vertical|horizontal|lookups?|gsub|gpos|gdef|marks?|accents?|accented|combining|composites?|fontconfig|freetype|render\w*|raster\w*|pixels?|bitmaps?|latin|greek|cyrillic|arabic|hebrew|armenian|georgian|thai|lao|khmer|devanagari|bengali|tamil|telugu|kannada|malayalam|gujarati|gurmukhi|oriya|sinhala|tibetan|burmese|myanmar|ethiopic|vietnamese|chinese|japanese|korean|hangul|kanji|kana|hiragana|katakana|hanzi|indic|runic|braille|ipa|scripts?|orthograph\w*|typograph\w*|calligraph\w*|grotesque|grotesk|humanist|geometric|neo-?\w*|garalde|didone|modern|gothic|fraktur|blackletter|handwrit\w*|display|specimens?|punch\w*|engrav\w*|carv\w*|digiti[sz]\w*|revivals?|interpolat\w*|masters?|instances?|variable|static|styles?|shapes?|series|sizes?|scaled?|widths?|heights?|dvips|dvipdfmx?|fontspec|fontenc|inputenc|babel|(?:la|xe|lua|pdf|xe-?la|lua-?la|pdf-?la|plain)?tex|ctan|texmf|texhash|updmap|packages?|options?|macros?|commands?|python|makefiles?|repositor\w*|github|gitlab|branch|commits?|upstream|debian|ubuntu|fedora|linux|windows|macos|mac|unix|ttf|otf|woff2?|eot|svg|ufo|sfd|pfb|afm|tfm|bdf|pcf|ps|utf-8|ascii|iso|cff|nfss)$/i;
/** Words that make a sentence one on fonts, and nothing more. */
export const ABOUT_FONTS =
  /^(?:fonts?|typefaces?|type|design\w*|draw\w*|drew|family|families|versions?|releases?|sources?|files?|texts?|documentation|manual|authors?|contributors?|designers?|foundr\w*|collections?|sets?)$/i;
/** How entries of a list of changes begin. */
export const CHANGES =
  /^[-*•+\s]*(?:added|add|adds|adding|fixe?[sd]?|fixing|improve[sd]?|improving|improvements?|update[sd]?|updating|correct(?:ed|s|ion|ions)?|chang(?:ed|es)|remov(?:ed|es)|renam(?:ed|es)|refin(?:ed|es)|redr[ae]wn?|redraw|redesigned|adjust(?:ed|s)?|tweak(?:ed|s)?|moved|merged|rebuilt|rebuild|regenerated|reworked|replaced|cleaned|clean(?:ed)? up|initial|minor|small|various|bug ?fixe?s?|new)\b/i;
/** How thanks and names of makers begin. */
export const CREDITS =
  /^[-*•+#%\s]*(?:(?:many |special |my |our )?thanks|thank you|acknowledg\w*|credits?|(?:type ?|font ?|lead |original |principal |graphic )?design(?:ed|er|ers|s)?(?: by|:)|drawn by|created by|made by|written by|modified by:|developed by|maintained by|maintainers?|authors?|contributors?|contributions?|engineer\w*|digiti[sz]ed by|by|n:|e:|w:|d:|project (?:lead|leader)|translat\w*|art direction|mastering|production|hinting|foundry)\b/i;
/** Headings of what comes with fonts. */
export const HEADINGS =
  /^[-=*#_~\s\d.]*(?:about|abstract|acknowledge?ments?|authors?|background|basic font information|build(?:ing)?|building (?:the )?(?:fonts?|webfonts)|bugs|changelog|change ?log|changes|compiling|contact|contents|contribut[a-z]+|copyright|credits|dependencies|description|design|designers?|development|differences|documentation|download(?:s|ing)?|examples?|faq|features|files?|font ?log|fonts?|future|getting started|glyphs?|history|how to|information about the contributors|install(?:ation|ing)?(?: (?:instructions|notes))?|introduction|issues|known (?:bugs|issues|problems)|languages|license|links|maintainers?|manifest|news|notes?|options|overview|package|problems|project|readme|read me|references|release notes|releases|repository|requirements|resources|roadmap|samples?|see also|setup|source|sources|specimen|structure|styles|summary|support|table of contents|thanks|to ?do|usage|version(?: history| information)?|versions|warning|weights|what['’]?s new)[\s:.*#=_~-]*$/i;
/** How a font is made or set, in words that nothing else has. */
export const TECHNIQUE =
  /^(?:la|xe|lua|pdf|xe-?la|lua-?la|pdf-?la)?tex$|^(?:options?|macros?|commands?|kern(?:s|ing)?|encodings?|hint(?:s|ing|ed)?|compil\w+|unicode|opentype|code ?points?|bugs?|crash\w*|errors?|fontspec|fontenc|babel|engines?|sidebearings?|anchors?|contours?|lookups?|gsub|gpos|fontconfig|freetype|metrics)$/i;
/** Words of what something reaches. */
export const SCOPE =
  /^(?:allow\w*|privileg\w*|friends?|preview\w*|chosen|select few|under\w*|another|others?|same|else\w*|below|above|following|previous|forever|stays?|gone|clos\w*|mere|property|properties|behalf|beware|careful|hands|stop|steal|draft|preview|review|embargo\w*|replac\w*|overrid\w*|ignore\w*|valid\w*|become\w*|cover\w*|extend\w*|extent|part|parts|count|counts|concern\w*|hold|holds|belong\w*|mean|means|meant|pertain\w*|relat\w*|affect\w*|scope|regard\w*|about|refer\w*|open|ours?|mine|sole|remain\w*)$/i;
