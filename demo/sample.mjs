/** The sample business: all invented. Texts are our own, each in the language it names. */
export const BUSINESS = { name: 'Hollin Bank Seeds', owner: 'Wren Hollin', email: 'wren@hollin-bank.example' };

export const PROOF_TEXTS = [
  { language: 'en', label: 'English', text: 'Crimson-flowered broad bean' },
  { language: 'pl', label: 'Polish', text: 'Łubin żółty i groszek pachnący' },
  { language: 'cy', label: 'Welsh', text: 'Ffa dringo a phŷs pêr o’r ardd' },
  { language: 'el', label: 'Greek', text: 'Σπόροι για κήπους με φως' },
  { language: 'uk', label: 'Ukrainian', text: 'Насіння квітів їжі й ґрунту' },
  { language: 'vi', label: 'Vietnamese', text: 'Hạt giống rau thơm và đậu rồng' },
  { language: 'hi', label: 'Hindi', text: 'धूप में बोएँ, प्रेम से सींचें' },
  { language: 'ar', label: 'Arabic', text: 'بذور الزهور والخضار من بستاننا' },
  { language: '', label: 'Figures', text: '0123456789' },
  { language: '', label: 'Price', text: '£3.20 · €3,90 · 14,50 zł' },
  { language: '', label: 'Alphabet', text: 'ABCDEFGHIJKLMNOPQRSTUVWXYZ abcdefghijklmnopqrstuvwxyz' },
];

const expo = (name, pick = /./) => ({ package: `@expo-google-fonts/${name}`, pick, license: 'LICENSE_FONT', as: 'OFL.txt' });

/** Bundles as a free collection or a designer would send them; each becomes a ZIP and comes in as a user would bring it. */
export const BUNDLES = [
  { name: 'literata.zip', ...expo('literata', /^(400|600|700)/), confirm: true },
  { name: 'atkinson-hyperlegible-next.zip', ...expo('atkinson-hyperlegible-next', /^(400|700)/), confirm: true },
  { name: 'noto-sans-for-packets.zip', ...expo('noto-sans', /^(400|700)/), confirm: true },
  { name: 'noto-sans-arabic.zip', ...expo('noto-sans-arabic', /^(400|700)/), confirm: true },
  { name: 'noto-sans-devanagari.zip', ...expo('noto-sans-devanagari', /^(400|700)/), confirm: true },
  { name: 'scheherazade-new.zip', ...expo('scheherazade-new', /^(400|700)/) },
  { name: 'gochi-hand.zip', ...expo('gochi-hand') },
  { name: 'young-serif.zip', ...expo('young-serif') },
  { name: 'gfs-didot.zip', ...expo('gfs-didot') },
  { name: 'be-vietnam-pro.zip', ...expo('be-vietnam-pro', /^(400|600)/), confirm: true },
  { name: 'caveat-from-an-old-computer.zip', package: 'caveat-before', pick: /./, license: null },
  { name: 'caveat.zip', ...expo('caveat', /^(400|700)/), license: null },
];

export const PALETTE = [
  { name: 'Bean leaf', hex: '#3f5b2e' },
  { name: 'Packet paper', hex: '#f4ecd8' },
  { name: 'Beetroot', hex: '#7a1f3d' },
  { name: 'Night soil', hex: '#2a2320' },
  { name: 'Marigold', hex: '#e0962b' },
];

/** How the two of them keep their shelf. Families by name. */
export const SHELF = {
  collections: [
    { name: 'Packet fronts', families: ['Young Serif', 'Literata', 'Noto Sans Arabic', 'Noto Sans Devanagari'] },
    { name: 'Aprons and totes', families: ['Gochi Hand', 'Caveat'] },
  ],
  labels: [
    { labels: ['sowing notes'], families: ['Atkinson Hyperlegible Next', 'Noto Sans'] },
    { labels: ['headlines'], families: ['Young Serif', 'GFS Didot'] },
  ],
  favorites: ['Literata'],
  notes: [{ family: 'Gochi Hand', note: 'Close to the lettering on the packet backs. Ask about the aprons before using it there.' }],
  searches: [
    { name: 'For the Greek packets', query: 'writes=el&use=printed-goods' },
    { name: 'Prices in columns', query: 'features=tnum' },
  ],
  texts: [
    {
      name: 'Spring price list',
      text: `Broad bean 'Hollin Crimson', 30 seeds\t£3.20
Łubin żółty, 25 nasion\t14,50 zł
Ffa dringo ‘Dyffryn’, 20 hedyn\t£2.80
Κόκκινο φασόλι, 20 σπόροι\t3,90 €
Соняшник низький, 15 насінин\t€3,40
Đậu rồng, 15 hạt\t€3,20
गेंदा, ५० बीज\t€2,90
ورد الساعة، ١٠ بذور\t€4,10`,
    },
    {
      name: 'Back of every packet',
      text: 'Sow under glass from February, outside from mid-April. Depth 5 cm, 20 cm apart. Water well until they climb.',
    },
  ],
};

export const README = `Thank you for downloading!

Install the OTF files on your computer. The ZIP inside holds the same faces
as TTF, for programs that do not take OTF.

The terms are in LICENSE.md.
`;

export const RECEIPT = `RECEIPT 2026-0417

Sold to     Hollin Bank Seeds
Item        Bundle of text faces, free of charge
Amount paid 0.00
`;

export const PICTURE = `<svg xmlns="http://www.w3.org/2000/svg" width="320" height="120" viewBox="0 0 320 120">
  <rect width="320" height="120" fill="#f4f1e4"/>
  <path d="M40 90 C60 20 110 20 120 90 M80 60 h90 M190 90 v-60 q50 0 50 30 t-50 30" fill="none" stroke="#4b5d34" stroke-width="8"/>
</svg>
`;
