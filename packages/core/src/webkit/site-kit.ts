import type { Fallback, Generic } from './fallback.js';
import { cssPath, cssString as css, csvCell, htmlComment, htmlText as html, jsonText, plainLine } from '../text/index.js';
import type { KitText } from './kit.js';

/** How the files of a kit lie beside each other. */
export const LAYOUTS = ['flat', 'siblings', 'nested'] as const;
export type Layout = (typeof LAYOUTS)[number];

/** One font file of a kit. */
export interface SiteFile {
  family: string;
  style: string;
  weightClass: number;
  /** From fvar's wght axis, for variable faces: [min, max]. */
  weightRange: readonly [number, number] | null;
  italic: boolean;
  /** File name without extension. */
  fileBase: string;
  /** Bytes as they are sent, and as they were brought in. */
  bytes: number;
  sourceBytes: number;
  /** Base64 of the SHA-384 of the file. */
  sha384: string;
  /** Characters as runs [first, last, ...]. */
  runs: readonly number[];
  /** Several files of one face need their ranges; null where the face has one file. */
  unicodeRange: string | null;
  /** Languages whose pages load it, where a face has several files; CLDR tags. */
  languages?: readonly string[];
  fallback: Fallback | null;
  /** The generic family at the end of the list. */
  generic: Generic;
  /** What license is on record for it, where somebody keeps records; null where none is. */
  licenseName?: string | null;
}

export interface SiteKit {
  name: string;
  layout: Layout;
  files: readonly SiteFile[];
  /** Words to show the faces in. */
  sample: string;
}

/** Where things lie, and the way from the style sheet to a font. Paths end in a slash or are empty. */
export const PLACES: Readonly<Record<Layout, { styles: string; fonts: string; way: string; why: string }>> = {
  flat: { styles: '', fonts: '', way: '', why: 'The fonts lie beside the style sheet, so it names them without a folder.' },
  siblings: {
    styles: 'css/',
    fonts: 'fonts/',
    way: '../fonts/',
    why: 'The style sheet and the fonts lie in folders side by side: “..” goes up out of css, and fonts down into the other.',
  },
  nested: {
    styles: 'css/',
    fonts: 'css/fonts/',
    way: 'fonts/',
    why: 'The folder of the fonts lies within that of the style sheet, so the way begins with its name.',
  },
};

const percent = (part: number): string => `${Math.round(part * 10_000) / 100}%`;
const weightOf = (f: SiteFile): string =>
  f.weightRange ? `${f.weightRange[0]} ${f.weightRange[1]}` : String(Math.min(1000, Math.max(1, f.weightClass)));
const fallbackName = (f: SiteFile): string => `${f.family} fallback`;

function rules(kit: SiteKit): string {
  const { way } = PLACES[kit.layout];
  const faces = kit.files.map(
    (f) => `@font-face {
  font-family: ${css(f.family)};
  font-style: ${f.italic ? 'italic' : 'normal'};
  font-weight: ${weightOf(f)};
  font-display: swap;
  src: url("${way}${cssPath(`${f.fileBase}.woff2`)}") format("woff2");${f.unicodeRange ? `\n  unicode-range: ${f.unicodeRange};` : ''}
}
`,
  );
  // A system's face at the size and with the lines of the web face, so that nothing jumps when that arrives.
  const seen = new Set<string>();
  const fallbacks = kit.files.flatMap((f) => {
    const key = `${f.family}/${f.italic}/${weightOf(f)}`;
    if (!f.fallback || seen.has(key)) return [];
    seen.add(key);
    return [
      `@font-face {
  font-family: ${css(fallbackName(f))};
  font-style: ${f.italic ? 'italic' : 'normal'};
  font-weight: ${weightOf(f)};
  src: local(${css(f.fallback.local)});
  size-adjust: ${percent(f.fallback.sizeAdjust)};
  ascent-override: ${percent(f.fallback.ascentOverride)};
  descent-override: ${percent(f.fallback.descentOverride)};
  line-gap-override: ${percent(f.fallback.lineGapOverride)};
}
`,
    ];
  });
  return [...faces, ...fallbacks].join('\n');
}

/** The list of families for a `font-family`, the fallback and a generic one after it. */
export function stackOf(files: readonly SiteFile[], family: string): string {
  const own = files.filter((f) => f.family === family);
  return [css(family), ...(own.some((f) => f.fallback) ? [css(`${family} fallback`)] : []), own[0]?.generic ?? 'sans-serif'].join(', ');
}

const familiesOf = (kit: SiteKit): string[] => [...new Set(kit.files.map((f) => f.family))];
/** A name that CSS, SCSS and JSON take: small letters, figures and hyphens. */
const token = (family: string): string =>
  family
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '') || 'face';

/** Tokens by name; families whose names come to the same get a number. */
function tokensOf(kit: SiteKit): Map<string, string> {
  const out = new Map<string, string>();
  for (const family of familiesOf(kit)) {
    let name = token(family);
    for (let n = 2; out.has(name); n++) name = `${token(family)}-${n}`;
    out.set(name, family);
  }
  return out;
}

function tree(kit: SiteKit): string {
  const { styles, fonts } = PLACES[kit.layout];
  const fontLines = (indent: string): string => kit.files.map((f) => `${indent}${f.fileBase}.woff2`).join('\n');
  switch (kit.layout) {
    case 'flat':
      return `${plainLine(kit.name)}/\n  fonts.css\n${fontLines('  ')}`;
    case 'siblings':
      return `${plainLine(kit.name)}/\n  ${styles}\n    fonts.css\n  ${fonts}\n${fontLines('    ')}`;
    case 'nested':
      return `${plainLine(kit.name)}/\n  ${styles}\n    fonts.css\n    fonts/\n${fontLines('      ')}`;
  }
}

const kib = (bytes: number): string => `${(bytes / 1024).toFixed(1)} KiB`;

/**
 * The texts of a kit for a website; the fonts go beside them as `fontPath` says.
 * @param sha384 the Base64 of the SHA-384 of a text in UTF-8. Source: Subresource Integrity, W3C
 */
export function siteKitTexts(kit: SiteKit, sha384: (text: string) => string): KitText[] {
  const { styles, fonts } = PLACES[kit.layout];
  const tokens = tokensOf(kit);
  const first = kit.files[0]!;
  // The first file of each family: what is loaded beforehand keeps other things waiting.
  const link = (f: SiteFile): string =>
    `<link rel="preload" href="${fonts}${html(f.fileBase)}.woff2" as="font" type="font/woff2" crossorigin>`;
  const firstOf = (files: readonly SiteFile[]): SiteFile[] =>
    [...new Map([...files].reverse().map((f) => [f.family, f])).values()].reverse();
  const cut = kit.files.filter((f) => f.unicodeRange !== null);
  const preload = [
    ...firstOf(kit.files.filter((f) => f.unicodeRange === null)).map(link),
    // Of a face in several files a page loads those that its language needs.
    ...[...new Set(cut.flatMap((f) => f.languages ?? []))].sort().map(
      (tag) =>
        `<!-- On pages in ${htmlComment(tag)}: ${cut
          .filter((f) => f.languages?.includes(tag))
          .map(link)
          .join(' ')} -->`,
    ),
  ].join('\n');
  const sheet = `/* ${PLACES[kit.layout].why} */\n${rules(kit)}\n:root {\n${[...tokens].map(([t, family]) => `  --font-${t}: ${stackOf(kit.files, family)};`).join('\n')}\n}\n`;
  const texts: KitText[] = [
    { path: `${styles}fonts.css`, content: sheet },
    {
      path: `${styles}fonts.scss`,
      content: `${[...tokens].map(([t, family]) => `$font-${t}: ${stackOf(kit.files, family)};`).join('\n')}\n`,
    },
    {
      // Source: Design Tokens Format Module (community group report), type fontFamily.
      path: 'tokens.json',
      content: `${jsonText(
        {
          font: {
            family: Object.fromEntries(
              [...tokens].map(([t, family]) => [
                t,
                {
                  $type: 'fontFamily',
                  $value: [
                    family,
                    ...(kit.files.some((f) => f.family === family && f.fallback) ? [`${family} fallback`] : []),
                    kit.files.find((f) => f.family === family)!.generic,
                  ],
                },
              ]),
            ),
          },
        },
        2,
      )}\n`,
    },
    // Browsers check style sheets by their hash, and fonts not at all; those of the fonts stand in a list of their own.
    {
      path: 'preload.html',
      content: `${preload}\n<link rel="stylesheet" href="${styles}fonts.css" integrity="sha384-${sha384(sheet)}" crossorigin>\n`,
    },
    { path: 'integrity.txt', content: kit.files.map((f) => `sha384-${f.sha384}  ${fonts}${f.fileBase}.woff2\n`).join('') },
    { path: 'server/htaccess.txt', content: SERVERS.htaccess },
    { path: 'server/nginx.txt', content: SERVERS.nginx },
    { path: 'server/headers.txt', content: SERVERS.headers },
    {
      path: 'sizes.csv',
      content: `file,bytes,source bytes,characters\r\n${kit.files.map((f) => `${csvCell(`${f.fileBase}.woff2`)},${f.bytes},${f.sourceBytes},${countOf(f.runs)}`).join('\r\n')}\r\n`,
    },
    { path: 'test.html', content: testPage(kit, styles) },
  ];
  texts.push({
    path: 'HOW-TO.txt',
    content: `${plainLine(kit.name)}: FACES FOR A WEBSITE

How the files lie
${tree(kit)}

${PLACES[kit.layout].why} When you move one of them, change every url() in fonts.css to the new way.

What to do
  1. Copy ${kit.layout === 'flat' ? 'the fonts and fonts.css' : kit.layout === 'siblings' ? 'the folders css and fonts, side by side,' : 'the folder css'} into the website's main folder.
  2. Put the lines of preload.html into the head of each page.
  3. Set text in it:
       h1 { font-family: var(--font-${[...tokens.keys()][0]!}); }
     or in full:
       h1 { font-family: ${stackOf(kit.files, first.family)}; }
  4. Open test.html to see whether all of it is found.

Until a face arrives, the reader's own face stands in for it at the same width and height of lines, so that text does not
jump. font-display is swap: text is never invisible.

On the server
  Font files need the type font/woff2 and may be kept for a year, since another version has another name; server/ has the
  lines for three kinds of servers. A content policy needs: font-src 'self'; style-src 'self'.

Sizes
${kit.files.map((f) => `  ${f.fileBase}.woff2  ${kib(f.bytes)}, brought in with ${kib(f.sourceBytes)}, ${countOf(f.runs)} characters`).join('\n')}

Terms
${termsOf(kit)}
  Texts of the licenses lie in license/. Leave them beside the fonts.
`,
  });
  return texts;
}

function termsOf(kit: SiteKit): string {
  const lines = kit.files.flatMap((f) =>
    f.licenseName === undefined
      ? []
      : [`  ${plainLine(f.family)}: ${plainLine(f.licenseName ?? 'no license on record; ask before you use it')}`],
  );
  return lines.length > 0 ? [...new Set(lines)].join('\n') : '  What each file says of its terms stands there.';
}

/** Where a font of a kit goes. */
export const fontPath = (layout: Layout, fileBase: string): string => `${PLACES[layout].fonts}${fileBase}.woff2`;

const countOf = (runs: readonly number[]): number => {
  let count = 0;
  for (let i = 0; i < runs.length; i += 2) count += runs[i + 1]! - runs[i]! + 1;
  return count;
};

/** Media types and caching. Sources: RFC 8081 (font/woff2), RFC 8246 (immutable); the servers' own documentation, from memory. */
const SERVERS = {
  htaccess: `AddType font/woff2 .woff2
<FilesMatch "\\.woff2$">
  Header set Cache-Control "public, max-age=31536000, immutable"
  Header set Access-Control-Allow-Origin "*"
</FilesMatch>
`,
  nginx: `location ~* \\.woff2$ {
  types { font/woff2 woff2; }
  add_header Cache-Control "public, max-age=31536000, immutable";
  add_header Access-Control-Allow-Origin "*";
}
`,
  headers: `/*.woff2
  Content-Type: font/woff2
  Cache-Control: public, max-age=31536000, immutable
  Access-Control-Allow-Origin: *
`,
};

function testPage(kit: SiteKit, styles: string): string {
  const rows = kit.files
    .map(
      (f) => `    <section>
      <h2>${html(f.family)} ${html(f.style)}</h2>
      <p style="font-family: ${html(stackOf(kit.files, f.family))}; font-weight: ${f.weightRange ? Math.min(Math.max(400, f.weightRange[0]), f.weightRange[1]) : weightOf(f)}; font-style: ${f.italic ? 'italic' : 'normal'}">${html(kit.sample)}</p>
    </section>`,
    )
    .join('\n');
  return `<!doctype html>
<html lang="en">
  <head>
    <meta charset="utf-8">
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <title>${html(kit.name)}</title>
    <link rel="stylesheet" href="${styles}fonts.css">
    <style>
      body { margin: 2rem auto; max-width: 60rem; padding: 0 1rem; font: 1rem/1.5 sans-serif; }
      h2 { font-size: 0.875rem; font-weight: 400; border-top: 1px solid; padding-top: 0.5rem; }
      section p { font-size: 2.5rem; line-height: 1.2; margin: 0 0 2rem; overflow-wrap: anywhere; }
    </style>
  </head>
  <body>
    <h1>Is all of it there?</h1>
${rows}
  </body>
</html>
`;
}
