/** One face of a handover kit. */
export interface KitFace {
  family: string;
  style: string;
  weightClass: number;
  /** From fvar's wght axis, for variable faces: [min, max]. */
  weightRange: [number, number] | null;
  italic: boolean;
  /** Base of the file names, without extension. */
  fileBase: string;
  sizes: { woff2: number; woff: number };
  licenseName: string | null;
}

export interface KitText {
  path: string;
  content: string;
}

/** A string of a style sheet. */
export const css = (value: string): string => `"${value.replace(/[\\"]/g, '\\$&').replace(/[\n\r\f]/g, ' ')}"`;
/** Text for a page. */
export const html = (value: string): string => value.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
const kib = (bytes: number): string => `${Math.ceil(bytes / 1024)} KiB`;

/** Latin letters that Unicode does not take apart into a letter and a mark. */
const PLAIN: Readonly<Record<string, string>> = {
  Ł: 'L',
  ł: 'l',
  Ø: 'O',
  ø: 'o',
  Đ: 'D',
  đ: 'd',
  ß: 'ss',
  Æ: 'AE',
  æ: 'ae',
  Œ: 'OE',
  œ: 'oe',
  Þ: 'Th',
  þ: 'th',
  ı: 'i',
};

/** A name that is safe in any file system and URL: letters, figures and hyphens. */
export function fileBase(family: string, style: string): string {
  const clean = (s: string): string =>
    s
      .replace(/[ŁłØøĐđßÆæŒœÞþı]/g, (c) => PLAIN[c]!)
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .replace(/[^A-Za-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '');
  return [clean(family) || 'font', clean(style) || 'Regular'].join('-').slice(0, 80);
}

/** The `@font-face` rule of one face. Source: CSS Fonts Module Level 4, sections 4.1 to 4.4. */
export function fontFaceRule(face: KitFace, fontsPath: string): string {
  const weight = face.weightRange ? `${face.weightRange[0]} ${face.weightRange[1]}` : String(Math.min(1000, Math.max(1, face.weightClass)));
  return `@font-face {
  font-family: ${css(face.family)};
  font-style: ${face.italic ? 'italic' : 'normal'};
  font-weight: ${weight};
  font-display: swap;
  src:
    url("${fontsPath}${face.fileBase}.woff2") format("woff2"),
    url("${fontsPath}${face.fileBase}.woff") format("woff");
}
`;
}

/** The texts of a handover kit: style sheet, a page that shows the faces, and how to use them. */
export function kitTexts(faces: readonly KitFace[], sample: string): KitText[] {
  const families = [...new Set(faces.map((f) => f.family))];
  return [
    {
      path: 'css/fonts.css',
      content: `/* Loads the faces from the folder beside this one. */\n${faces.map((f) => fontFaceRule(f, '../fonts/')).join('\n')}`,
    },
    { path: 'example.html', content: examplePage(faces, sample) },
    { path: 'HOW-TO.txt', content: howTo(faces, families) },
  ];
}

function examplePage(faces: readonly KitFace[], sample: string): string {
  const rows = faces
    .map(
      (f) => `    <section>
      <h2>${html(f.family)} ${html(f.style)}</h2>
      <p style="font-family: ${html(css(f.family))}; font-weight: ${f.weightRange ? 400 : f.weightClass}; font-style: ${f.italic ? 'italic' : 'normal'}">${html(sample)}</p>
    </section>`,
    )
    .join('\n');
  return `<!doctype html>
<html lang="en">
  <head>
    <meta charset="utf-8">
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <title>The faces of this kit</title>
    <link rel="stylesheet" href="css/fonts.css">
    <style>
      body { margin: 2rem auto; max-width: 60rem; padding: 0 1rem; font: 1rem/1.5 sans-serif; }
      h2 { font-size: 0.875rem; font-weight: 400; border-top: 1px solid; padding-top: 0.5rem; }
      section p { font-size: 3rem; line-height: 1.2; margin: 0 0 2rem; }
    </style>
  </head>
  <body>
${rows}
  </body>
</html>
`;
}

function howTo(faces: readonly KitFace[], families: readonly string[]): string {
  const first = families[0] ?? '';
  return `HOW TO PUT THESE FACES ON A WEBSITE

What is here
${faces.map((f) => `  fonts/${f.fileBase}.woff2   ${f.family} ${f.style}, ${kib(f.sizes.woff2)}\n  fonts/${f.fileBase}.woff    the same for very old browsers, ${kib(f.sizes.woff)}`).join('\n')}
  css/fonts.css   tells the browser where the files are
  example.html    open it to see the faces at work
  license/        the terms; leave them beside the fonts

What to do
  1. Copy the folders "fonts", "css" and "license" into the website's main folder,
     side by side.
  2. In the head of each page:
       <link rel="stylesheet" href="/css/fonts.css">
  3. In your own style sheet:
       h1, h2 { font-family: ${css(first)}, serif; }

If the face does not show
  The style sheet says ../fonts/ because "css" and "fonts" lie side by side: ".." goes
  up one folder, "fonts" down into the other. If you move one of them, change every
  ../fonts/ in css/fonts.css to the new way from the style sheet to the files.
  Some servers refuse font files until the types font/woff2 and font/woff are allowed.

Terms
${[...new Set(faces.map((f) => `  ${f.family}: ${f.licenseName ?? 'no license on record; ask before you use it'}`))].join('\n')}
`;
}
