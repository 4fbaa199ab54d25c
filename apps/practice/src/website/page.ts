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
  return roles.length > 0 ? `${roles.join('\n')}\n` : '/* No face has been delivered yet. */\n';
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
  <nav aria-label="Shop"><a href="#packets">Packets</a> <a href="#sowing">Sowing notes</a> <a href="#visit">Visit</a></nav>
  ${icons ? '<p class="icons" aria-hidden="true">&#xE000; &#xE001; &#xE002; &#xE003;</p>' : ''}
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
  <p class="practice"><a href="/practice">Settings of this practice website</a></p>
</footer>
<script src="/assets/website/shop.js"></script>
</body>
</html>
`;
}
