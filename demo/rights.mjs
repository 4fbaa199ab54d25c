/** Invented makers, terms, receipts and customers. Days are counted from today, so that the sample never grows old. */
const day = (days) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);

const MAKER = 'Tern & Rowan Type';

const rtf = (lines) => `{\\rtf1\\ansi\\ansicpg1252\\deff0{\\fonttbl{\\f0 Serif;}}\\pard\\f0\\fs22 ${lines.join('\\par\\par ')}\\par}`;

const mail = (subject, lines) =>
  `From: Orders at Tern & Rowan <orders@tern-rowan.example>\r\nTo: wren@hollin-bank.example\r\nDate: Mon, 02 Mar 2026 10:12:00 +0000\r\nSubject: ${subject}\r\nMIME-Version: 1.0\r\nContent-Type: text/plain; charset=utf-8\r\n\r\n${lines.join('\r\n')}\r\n`;

const all = (answer, others = {}) =>
  Object.fromEntries(
    [
      ...['design-work', 'printed-goods', 'logo', 'website', 'online-store', 'design-tool', 'documents', 'app', 'customers-words'],
      ...['changing', 'passing-on'],
    ].map((use) => [use, others[use] ?? answer]),
  );

/** Each a bundle with faces drawn by the sample itself and the papers that came along. */
export const PAID = [
  {
    bundle: 'rowan-block-order-TR-20931.zip',
    faces: [
      { family: 'Rowan Block', cut: 'slab' },
      { family: 'Rowan Block', style: 'Bold', cut: 'slab', bold: true },
    ],
    papers: {
      'Terms of sale.rtf': rtf([
        'Rowan Block. Terms of sale',
        'You may install the font on up to 2 computers of your business.',
        'You may use it for printed goods that you sell, up to 5,000 units. You may use it in a logo.',
        'It may not be used on a website. You may not modify the font file or pass it on to others.',
      ]),
      'Receipt TR-20931.eml': mail('Receipt TR-20931', [
        'Order number TR-20931',
        'Rowan Block, two styles, 48.00 EUR',
        'Amount paid 48.00 EUR',
        'Sold to Hollin Bank Seeds',
      ]),
    },
    license: {
      name: 'Rowan Block, desktop and print',
      kind: 'bought',
      uses: all('no', { 'design-work': 'yes', 'printed-goods': 'yes', logo: 'yes', documents: 'ask' }),
      quotes: {
        'design-work': 'You may install the font on up to 2 computers of your business.',
        'printed-goods': 'You may use it for printed goods that you sell, up to 5,000 units.',
        website: 'It may not be used on a website.',
      },
      limits: { 'design-work': 2, 'printed-goods': 5000 },
      counters: { 'design-work': 2, 'printed-goods': 4180 },
      startsOn: day(-268),
      price: 48,
      currency: 'EUR',
      boughtOn: day(-268),
      orderNumber: 'TR-20931',
      confirmed: true,
    },
  },
  {
    bundle: 'pebble-sign-yearly.zip',
    faces: [
      { family: 'Pebble Sign', cut: 'round' },
      { family: 'Pebble Sign', style: 'Bold', cut: 'round', bold: true },
    ],
    papers: {
      'Subscription.rtf': rtf([
        'Pebble Sign. Subscription for one year',
        'While the subscription runs you may use the font on your website, up to 10,000 page views a month, and in print.',
        'When it ends the font must come off the website. What was printed until then may be sold.',
      ]),
    },
    license: {
      name: 'Pebble Sign, yearly',
      kind: 'subscription',
      uses: all('no', { 'design-work': 'yes', 'printed-goods': 'yes', website: 'yes', 'online-store': 'ask', changing: 'ask' }),
      quotes: {
        website: 'While the subscription runs you may use the font on your website, up to 10,000 page views a month, and in print.',
      },
      limits: { website: 10_000, 'website-domains': 1 },
      counters: { website: 8_640, 'website-domains': 1 },
      startsOn: day(-315),
      endsOn: day(50),
      noticeOn: day(20),
      price: 90,
      currency: 'GBP',
      boughtOn: day(-315),
      orderNumber: 'TR-20544',
      duties: ['Take the face off the website when the subscription ends.', 'What was printed until then may be sold.'],
      confirmed: true,
    },
    deliver: true,
  },
  {
    bundle: 'tide-marker-from-the-bakery.zip',
    faces: [{ family: 'Tide Marker', cut: 'script' }],
    papers: {
      'Note.txt': 'Here is the face for our harvest stall. You may use it on your website until the stall is over. Moss and Gill Bakery\n',
    },
    license: {
      name: 'Tide Marker, lent for the harvest stall',
      kind: 'lent',
      grantor: 'Moss & Gill Bakery',
      uses: all('no', { 'design-work': 'yes', 'printed-goods': 'yes', website: 'yes', changing: 'yes' }),
      quotes: { website: 'You may use it on your website until the stall is over.' },
      startsOn: day(-120),
      billedTo: 'Moss & Gill Bakery, harvest stall',
      duties: ['Remove the face when the customer’s job is done.'],
      confirmed: true,
    },
    deliver: true,
    // The stall was over before anybody took the face off the site.
    thenEnds: day(-24),
  },
  {
    bundle: 'lantern-gate.zip',
    faces: [{ family: 'Lantern Gate', cut: 'stencil' }],
    papers: {
      'Read before use.txt':
        'Lantern Gate is free for personal use only.\nCommercial use requires a license; write to the maker.\nYou may not upload the font to online services or modify it.\n',
    },
  },
];

export const paidDefaults = { spdxId: null, grantor: MAKER, startsOn: null, endsOn: null, note: '' };
export { MAKER };
