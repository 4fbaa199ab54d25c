import { html } from '../common/page.js';
import type { Entry, Shelf } from '../common/shelf.js';

const NAMES = { headings: 'Shop Heading', text: 'Shop Text', icons: 'Shop Icons' } as const;
const given = (shelf: Shelf, role: keyof typeof NAMES): Entry | null => shelf.find(shelf.role(role) ?? '');

/** The rules that set the page in what was delivered; none for a role that has nothing. `folder`: the fonts, as seen from the sheet. */
export function stylesheet(shelf: Shelf, folder: string): string {
  const roles = (Object.keys(NAMES) as (keyof typeof NAMES)[]).flatMap((role) => {
    const font = given(shelf, role);
    return font
      ? [
          `@font-face {
  font-family: "${NAMES[role]}";
  font-weight: 1 1000;
  font-display: block;
  src: url("${folder}${font.name}") format("${font.format}");
}
:root { --${role === 'headings' ? 'heading' : role}: "${NAMES[role]}"; }`,
        ]
      : [];
  });
  if (given(shelf, 'icons')) roles.push(`.icon { font-family: "${NAMES.icons}"; font-weight: 400; line-height: 1; }\n${menuRules(shelf)}`);
  return roles.length > 0 ? `${roles.join('\n')}\n` : '/* No face has been delivered yet. */\n';
}

/** An entry of the shop's menu, with the icon that somebody chose for it. */
export interface MenuEntry {
  name: string;
  /** Code point in hexadecimal; empty for none. */
  icon: string;
  /** px. */
  size: number;
  color: string;
  hover: string;
  link: string;
}
const ENTRIES = [
  ['Packets', '#packets'],
  ['Sowing notes', '#sowing'],
  ['Visit', '#visit'],
] as const;
const color = (value: string, otherwise: string): string => (/^#[0-9a-f]{6}$/i.test(value) ? value : otherwise);

/** The menu as it is set. */
export const menuOf = (shelf: Shelf): MenuEntry[] =>
  ENTRIES.map(([name, link], i) => ({
    name,
    icon: /^[0-9a-f]{2,6}$/i.test(shelf.setting(`menu ${i} icon`)) ? shelf.setting(`menu ${i} icon`) : '',
    size: Math.min(96, Math.max(8, Number(shelf.setting(`menu ${i} size`)) || 20)),
    color: color(shelf.setting(`menu ${i} color`), '#1b1916'),
    hover: color(shelf.setting(`menu ${i} hover`), '#a8271b'),
    link: /^(#[\w-]*|https?:\/\/[^\s"<>]+)$/.test(shelf.setting(`menu ${i} link`)) ? shelf.setting(`menu ${i} link`) : link,
  }));

/** How the icons of the menu are set. */
const menuRules = (shelf: Shelf): string =>
  menuOf(shelf)
    .map((e, i) => `.entry-${i} .icon { font-size: ${e.size}px; color: ${e.color}; }\n.entry-${i}:hover .icon { color: ${e.hover}; }`)
    .join('\n');

/** The page on which icons are chosen for the menu: each by its picture, with size, colors and link. */
export function menuPage(shelf: Shelf, icons: readonly { codePoint: number; name: string }[], sheet: string): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Menu of the shop</title>
<link rel="stylesheet" href="/assets/website/shop.css">
<link rel="stylesheet" href="${sheet}">
</head>
<body>
<main>
<h1>The menu</h1>
${icons.length === 0 ? '<p>No icons have been delivered to this practice website yet.</p>' : ''}
<form method="post" action="/menu">
${menuOf(shelf)
  .map(
    (e, i) => `<fieldset><legend>${html(e.name)}</legend>
<p class="choices"><label><input type="radio" name="icon${i}" value=""${e.icon === '' ? ' checked' : ''}> no icon</label>
${icons.map((g) => `<label title="${html(g.name)}"><input type="radio" name="icon${i}" value="${g.codePoint.toString(16)}"${e.icon === g.codePoint.toString(16) ? ' checked' : ''}> <span class="icon">&#x${g.codePoint.toString(16)};</span><span class="sr">${html(g.name)}</span></label>`).join('\n')}</p>
<label>Size <input type="number" name="size${i}" min="8" max="96" value="${e.size}"></label>
<label>Color <input type="color" name="color${i}" value="${e.color}"></label>
<label>Color under the pointer <input type="color" name="hover${i}" value="${e.hover}"></label>
<label>Link <input name="link${i}" value="${html(e.link)}"></label>
</fieldset>`,
  )
  .join('\n')}
<button>Keep the menu</button>
</form>
<p><a href="/">The shop</a></p>
</main>
</body>
</html>
`;
}

interface Packet {
  name: string;
  note: string;
  price: string;
}

const PACKETS: readonly Packet[] = [
  { name: 'Crimson-flowered broad bean', note: 'Sow October or March, 20 cm apart. Red flowers, green beans, happy bees.', price: '£3.20' },
  { name: 'Long Lane parsnip', note: 'Sow thick in April; fresh seed only. Leave in the ground until a frost.', price: '£2.60' },
  { name: 'Ox-heart tomato', note: 'Under glass from February. Ribbed, heavy, few seeds, much flavor.', price: '£3.40' },
  { name: 'Blue love-in-a-mist', note: 'Scatter where it is to flower. Comes back by itself for years.', price: '£2.20' },
];

/** The front page of the shop. Holding the button or the B key shows the headings as they were before. */
export function shopPage(shelf: Shelf, sheet: string): string {
  const font = given(shelf, 'headings');
  const icons = given(shelf, 'icons');
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Hollin Bank Seeds</title>
<link rel="stylesheet" href="/assets/website/shop.css">
<link rel="stylesheet" href="${sheet}">
</head>
<body>
<header>
  <p class="strap">Seed saved by hand since the orchard wall was built</p>
  <h1>Hollin Bank Seeds</h1>
  <nav aria-label="Shop">${menuOf(shelf)
    .map(
      (e, i) =>
        `<a class="entry entry-${i}" href="${html(e.link)}">${icons && e.icon ? `<span class="icon" aria-hidden="true">&#x${e.icon};</span> ` : ''}${html(e.name)}</a>`,
    )
    .join(' ')}</nav>
</header>
<main>
  <section class="lead">
    <h2>Grow what your grandmother grew</h2>
    <p>Forty kinds of heirloom vegetables and flowers, grown on one hillside, dried in one loft, and sent to you in paper.</p>
  </section>
  <section id="packets" aria-label="Packets">
${PACKETS.map(
  (p) => `    <article>
      <h3>${html(p.name)}</h3>
      <p>${html(p.note)}</p>
      <p class="price">${html(p.price)}</p>
    </article>`,
).join('\n')}
  </section>
  <section id="sowing"><h2>Sowing notes</h2><p>Cover seed to twice its own depth. Water before sowing, not after. Write the date on the stick.</p></section>
  <section id="visit"><h2>Visit the loft</h2><p>Thursday to Saturday, ten to four, from the first frost to the last.</p></section>
</main>
<footer>
  <p id="face">${font ? `Headings set in ${html(font.family)}, ${Math.ceil(font.bytes / 1024)} KiB.` : 'Headings set in the browser’s own face: none has been delivered yet.'}</p>
  ${font ? '<button type="button" id="before">Hold to see the headings before</button> <span class="hint">or hold B</span>' : ''}
  <p class="practice"><a href="/menu">The menu and its icons</a> · <a href="/practice">Settings of this practice website</a></p>
</footer>
<script src="/assets/website/shop.js"></script>
</body>
</html>
`;
}
