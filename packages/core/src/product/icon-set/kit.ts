import { drawContour, SvgPathPen, TransformPen, type Contour } from '../../outline/index.js';
import { blockComment, cssPath, cssString, htmlText as html, jsonText, plainLine, tsString } from '../../text/index.js';
import { PLACES, type KitText, type Layout } from '../../webkit/index.js';
import type { BuiltIcon, BuiltSet } from './build.js';
import { uPlus } from './codes.js';
import { writeManifest } from './manifest.js';
import { noteText, type ReleaseNote } from './release.js';
import type { IconSet, SetFacts } from './set.js';

/** What a kit of an icon set is made from. */
export interface IconKit {
  set: IconSet;
  built: BuiltSet;
  number: number;
  /** YYYY-MM-DD. */
  day: string;
  layout: Layout;
  note: ReleaseNote;
  /** Full text of the license, where there is one. */
  licenseText: string;
}

const hex = (c: number): string => c.toString(16);
/** A name for variables and types: letters and figures, words by capitals. */
const camel = (name: string, first: 'small' | 'large'): string => {
  const words = name.split(/[^A-Za-z0-9]+/).filter(Boolean);
  const out = words.map((w, i) => (i === 0 && first === 'small' ? w : w[0]!.toUpperCase() + w.slice(1))).join('');
  return /^[0-9]/.test(out) || out === '' ? `icon${out}` : out;
};

/** How an element says which drawing it shows. */
export const classOf = (facts: SetFacts, name: string): string => `${facts.prefix}${name}`;
const attributeOf = (facts: SetFacts): string => `data-${facts.base}`;

/** The line to paste: hidden from screen readers where text stands beside it, or with words of its own. */
export function pasteLine(facts: SetFacts, name: string, label: string | null): string {
  const which =
    facts.selector === 'class' ? `class="${html(`${facts.base} ${classOf(facts, name)}`)}"` : `${attributeOf(facts)}="${html(name)}"`;
  return label === null ? `<span ${which} aria-hidden="true"></span>` : `<span ${which} role="img" aria-label="${html(label)}"></span>`;
}

/** Words for a name, for a label: "sow-under-glass" is "Sow under glass". */
export const labelOf = (name: string): string => {
  const words = name.replace(/-/g, ' ');
  return words[0]!.toUpperCase() + words.slice(1);
};

const FORMAT: Readonly<Record<string, string>> = { woff2: 'woff2', woff: 'woff', ttf: 'truetype', otf: 'opentype' };
/** Formats in the order in which browsers should take them. */
const ORDER = ['woff2', 'woff', 'ttf', 'otf'];

function sheet({ set, built, number, layout }: IconKit): string {
  const { facts } = set;
  const { way, why } = PLACES[layout];
  const files = [...built.files].sort((a, b) => ORDER.indexOf(a.format) - ORDER.indexOf(b.format));
  // The number in the address makes a new release a new file to browsers that keep the old one.
  const sources = files.map((f) => `url("${way}${cssPath(f.name)}?r=${number}") format("${FORMAT[f.format]}")`).join(',\n       ');
  const byAttribute = facts.selector === 'attribute';
  const base = byAttribute ? `[${attributeOf(facts)}]` : `.${facts.base}`;
  const one = (name: string): string => (byAttribute ? `[${attributeOf(facts)}="${name}"]` : `.${classOf(facts, name)}`);
  const beneathOf = beneathIn(set, built);
  const twoLayers = drawn(built).some((icon) => beneathOf(icon) !== null);
  const rules = drawn(built).flatMap((icon) => {
    const { aliases, mirror } = set.icons.find((i) => i.id === icon.id)!;
    const names = [icon.name, ...aliases];
    const code = `"\\${hex(icon.codePoint)}"`;
    const rule = `${names.map((n) => `${one(n)}::before`).join(',\n')} { content: ${code}; content: ${code} / ""; }`;
    const under = beneathOf(icon);
    const layers = under
      ? [
          `${names.map((n) => one(n)).join(',\n')} { display: inline-grid; isolation: isolate; }`,
          `${names.map((n) => `${one(n)}::after`).join(',\n')} { content: "\\${hex(under.codePoint)}"; content: "\\${hex(under.codePoint)}" / ""; }`,
        ]
      : [];
    return mirror
      ? [
          rule,
          ...layers,
          `${names.map((n) => `${one(n)}:dir(rtl)::before`).join(',\n')}${under ? `,\n${names.map((n) => `${one(n)}:dir(rtl)::after`).join(',\n')}` : ''} { transform: scaleX(-1); }`,
        ]
      : [rule, ...layers];
  });
  return `/* ${blockComment(facts.family)}, release ${number}. ${why} */
@font-face {
  font-family: ${cssString(facts.family)};
  font-style: normal;
  font-weight: 400;
  font-display: block;
  src: ${sources};
}

${base} { display: inline-block; line-height: 1; }
${base}::before {
  display: inline-block;
  font-family: ${cssString(facts.family)};
  font-style: normal;
  font-variant: normal;
  font-weight: 400;
  line-height: 1;
  text-transform: none;
  -webkit-font-smoothing: antialiased;
}
${twoLayers ? layerRule(facts, base) : ''}
${rules.join('\n')}

/* For whoever asks for it; nothing moves for readers who want less of it. */
.${facts.prefix}turns::before { animation: ${facts.prefix}turns 1.5s linear infinite; }
.${facts.prefix}beats::before { animation: ${facts.prefix}beats 1.2s ease-in-out infinite alternate; }
@keyframes ${facts.prefix}turns { to { transform: rotate(1turn); } }
@keyframes ${facts.prefix}beats { to { transform: scale(0.85); } }
@media (prefers-reduced-motion: reduce) {
  .${facts.prefix}turns::before,
  .${facts.prefix}beats::before { animation: none; }
}
`;
}

/** The second layer of drawings that have one: under the first, in a tone that pages choose. */
const layerRule = (facts: SetFacts, base: string): string => `
/* The layer beneath, of drawings in two tones: set --${facts.prefix}beneath to another color, --${facts.prefix}tone to how strong it is. */
${base}::before,
${base}::after { grid-area: 1 / 1; }
${base}::after {
  z-index: -1;
  font-family: ${cssString(facts.family)};
  font-style: normal;
  font-variant: normal;
  font-weight: 400;
  line-height: 1;
  text-transform: none;
  color: var(--${facts.prefix}beneath, currentColor);
  opacity: var(--${facts.prefix}tone, ${BENEATH});
  -webkit-font-smoothing: antialiased;
}
`;
/** How strong the layer beneath is shown when nothing else is said. */
export const BENEATH = 0.4;

/** The drawing that lies beneath another one. */
const beneathIn = (set: IconSet, built: BuiltSet): ((icon: DrawnIcon) => DrawnIcon | null) => {
  const all = new Map(drawn(built).map((i) => [i.id, i]));
  const under = new Map(set.icons.flatMap((i) => (i.beneath === null ? [] : [[i.id, i.beneath] as const])));
  return ({ id }) => all.get(under.get(id) ?? '') ?? null;
};

type DrawnIcon = BuiltIcon & { read: NonNullable<BuiltIcon['read']> };
const drawn = (built: BuiltSet): DrawnIcon[] => built.icons.filter((i): i is DrawnIcon => i.read !== null);

/** Ink as SVG path data on a square of `em` units, y down. */
export const pathOfInk = (contours: readonly Contour[], em: number): string => {
  const pen = new SvgPathPen(1);
  for (const contour of contours) drawContour(contour, new TransformPen([1, 0, 0, -1, 0, em], pen));
  return pen.path;
};
const color = (c: number): string => `#${c.toString(16).padStart(6, '0')}`;

/** The paths of a drawing as its glyph has it: in the color of the text around it, or in its own colors. */
export function svgPaths({ read }: DrawnIcon, em: number, beneath: DrawnIcon | null = null): string {
  if (read.inking === 'color' && read.layers.length > 0)
    return read.layers
      .map(
        (l) =>
          `<path fill="${color(l.color)}"${l.alpha < 0.995 ? ` fill-opacity="${Math.round(l.alpha * 100) / 100}"` : ''} d="${pathOfInk(l.contours, em)}"/>`,
      )
      .join('');
  const under = beneath ? `<path fill="currentColor" fill-opacity="${BENEATH}" d="${pathOfInk(beneath.read.contours, em)}"/>` : '';
  return `${under}<path fill="currentColor" d="${pathOfInk(read.contours, em)}"/>`;
}

function page(kit: IconKit): string {
  const { set, built, number } = kit;
  const { facts } = set;
  const { styles } = PLACES[kit.layout];
  const items = drawn(built)
    .map((icon) => {
      const { aliases, words } = set.icons.find((i) => i.id === icon.id)!;
      const label = labelOf(icon.name);
      return `      <li data-words="${html([icon.name, ...aliases, ...words, hex(icon.codePoint)].join(' '))}">
        ${pasteLine(facts, icon.name, null)}
        <b>${html(icon.name)}</b> <span>${uPlus(icon.codePoint)}</span>
        <code>${html(pasteLine(facts, icon.name, null))}</code>
        <code>${html(pasteLine(facts, icon.name, label))}</code>
      </li>`;
    })
    .join('\n');
  return `<!doctype html>
<html lang="en">
  <head>
    <meta charset="utf-8">
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <title>${html(facts.family)}</title>
    <link rel="stylesheet" href="${styles}icons.css">
    <style>
      body { margin: 2rem auto; max-width: 64rem; padding: 0 1rem; font: 1rem/1.5 sans-serif; color: #1b1916; background: #fff; }
      label { display: block; margin: 1rem 0; }
      input { font: inherit; padding: 0.25rem 0.5rem; width: 20rem; max-width: 100%; }
      ul { list-style: none; margin: 0; padding: 0; }
      li { display: grid; grid-template-columns: 3.5rem 12rem 6rem 1fr; gap: 0.25rem 1rem; align-items: center; border-top: 1px solid #ddd7cb; padding: 0.5rem 0; }
      li > :first-child { grid-row: span 2; font-size: 2.5rem; }
      li code { grid-column: 4; font-size: 0.8125rem; overflow-wrap: anywhere; user-select: all; }
      @media (max-width: 40rem) { li { grid-template-columns: 3.5rem 1fr; } li code { grid-column: 2; } }
    </style>
  </head>
  <body>
    <h1>${html(facts.family)}, release ${number}</h1>
    <p>The first line is for a drawing beside its words, the second for one that stands alone: put into it what it means there.</p>
    <label>Find <input type="search" id="find" autocomplete="off"></label>
    <p id="count" role="status">${drawn(built).length} drawings</p>
    <ul>
${items}
    </ul>
    <script>
      const items = [...document.querySelectorAll('li')];
      document.getElementById('find').addEventListener('input', (event) => {
        const words = event.target.value.toLowerCase().split(/\\s+/).filter(Boolean);
        let count = 0;
        for (const item of items) {
          item.hidden = !words.every((w) => item.dataset.words.includes(w));
          if (item.hidden) item.style.display = 'none';
          else {
            item.style.display = '';
            count++;
          }
        }
        document.getElementById('count').textContent = count + (count === 1 ? ' drawing' : ' drawings');
      });
    </script>
  </body>
</html>
`;
}

function tree({ built, layout }: IconKit): string {
  const { fonts } = PLACES[layout];
  const names = built.files.map((f) => f.name);
  switch (layout) {
    case 'flat':
      return ['icons.css', ...names].map((n) => `  ${n}`).join('\n');
    case 'siblings':
      return ['  css/', '    icons.css', `  ${fonts}`, ...names.map((n) => `    ${n}`)].join('\n');
    case 'nested':
      return ['  css/', '    icons.css', '    fonts/', ...names.map((n) => `      ${n}`)].join('\n');
  }
}

/** Where a font of a kit goes. */
export const iconFontPath = (layout: Layout, name: string): string => `${PLACES[layout].fonts}${name}`;

/** The texts of a kit; the fonts go beside them as `iconFontPath` says. */
export function iconKitTexts(kit: IconKit): KitText[] {
  const { set, built, number, day, layout } = kit;
  const { facts } = set;
  const { styles, why } = PLACES[layout];
  const icons = drawn(built);
  const type = camel(facts.prefix || facts.family, 'large');
  const value = camel(facts.prefix || facts.family, 'small');
  const details = new Map(set.icons.map((i) => [i.id, i]));
  const names = icons.flatMap((i) => [i.name, ...details.get(i.id)!.aliases].map((name) => ({ name, codePoint: i.codePoint })));
  const [first] = icons;
  const beneathOf = beneathIn(set, built);
  const released: IconSet = {
    ...set,
    icons: set.icons.map((icon, i) => ({ ...icon, codePoint: built.icons[i]!.codePoint })),
    given: built.given,
  };
  return [
    { path: `${styles}icons.css`, content: sheet(kit) },
    {
      path: `${styles}icons.scss`,
      content: `$${facts.prefix}family: ${cssString(facts.family)};\n$${facts.prefix}icons: (\n${names.map((n) => `  ${cssString(n.name)}: "\\${hex(n.codePoint)}",`).join('\n')}\n);\n`,
    },
    {
      path: 'icons.json',
      content: `${jsonText(
        {
          family: facts.family,
          release: number,
          icons: Object.fromEntries(
            icons.map((i) => {
              const { aliases, words, characters } = details.get(i.id)!;
              return [
                i.name,
                {
                  codePoint: uPlus(i.codePoint),
                  class: classOf(facts, i.name),
                  aliases,
                  words,
                  characters: characters.map(uPlus),
                  ...(beneathOf(i) ? { beneath: uPlus(beneathOf(i)!.codePoint) } : {}),
                },
              ];
            }),
          ),
        },
        1,
      )}\n`,
    },
    {
      path: 'icons.ts',
      content: `/** Names of ${blockComment(facts.family)}, release ${number}. */\nexport type ${type}Icon =\n${names.map((n) => `  | ${tsString(n.name)}`).join('\n')};\n\n/** The character that shows each. */\nexport const ${value}Icons: Readonly<Record<${type}Icon, string>> = {\n${names
        .map((n) => `  ${tsString(n.name)}: '\\u{${hex(n.codePoint)}}',`)
        .join('\n')}\n};\n`,
    },
    { path: 'icons.html', content: page(kit) },
    {
      path: 'sprite.svg',
      content: `<svg xmlns="http://www.w3.org/2000/svg">\n${icons.map((i) => `<symbol id="${html(classOf(facts, i.name))}" viewBox="0 0 ${built.em} ${built.em}">${svgPaths(i, built.em, beneathOf(i))}</symbol>`).join('\n')}\n</svg>\n`,
    },
    ...icons.map((i) => ({
      path: `svg/${i.name}.svg`,
      content: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${built.em} ${built.em}">${svgPaths(i, built.em, beneathOf(i))}</svg>\n`,
    })),
    { path: 'icon-set.json', content: writeManifest(released, { number, day }) },
    { path: 'RELEASE.txt', content: noteText(kit.note, number) },
    {
      path: 'license/LICENSE.txt',
      content: `${[facts.maker && `Made by ${facts.maker}`, facts.license, facts.licenseUrl, kit.licenseText].filter(Boolean).join('\n\n') || 'Nothing is said about its terms. Ask whoever made it before you use it.'}\n`,
    },
    {
      path: 'HOW-TO.txt',
      content: `${plainLine(facts.family).toUpperCase()}, RELEASE ${number}: ICONS FOR A WEBSITE

How the files lie
${tree(kit)}

${why} When you move one of them, change the addresses in icons.css to the new way: a wrong way between the style sheet and
the fonts is the usual reason for empty boxes.

What to do
  1. Copy ${layout === 'flat' ? 'the fonts and icons.css' : layout === 'siblings' ? 'the folders css and fonts, side by side,' : 'the folder css'} into the website's main folder.
  2. Put this line into the head of each page:
       <link rel="stylesheet" href="${styles}icons.css">
  3. Put a drawing where it belongs:
       ${first ? pasteLine(facts, first.name, null) : ''}
     or, where no words stand beside it:
       ${first ? pasteLine(facts, first.name, labelOf(first.name)) : ''}
     icons.html shows every drawing with its lines.
  4. Its size is the size of the text and its color the color of the text:
       .${first ? classOf(facts, first.name) : facts.base} { font-size: 24px; color: #0e5a63; }
       a:hover .${facts.base} { color: #a8271b; }

A code point never moves: what a page uses today stays what it is in every release to come. Names that were given up work as
long as they are kept as aliases. icon-set.json holds the whole set; from it everything here is made again.
`,
    },
  ];
}
