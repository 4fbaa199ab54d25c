/** What one may want to do with a face. The order is the order on screens. */
export const USES = [
  'design-work',
  'printed-goods',
  'logo',
  'website',
  'online-store',
  'design-tool',
  'documents',
  'app',
  'customers-words',
  'changing',
  'passing-on',
] as const;
export type Use = (typeof USES)[number];

export const USE_WORDS: Readonly<Record<Use, { label: string; hint: string }>> = {
  'design-work': { label: 'Design work', hint: 'Installed on your own computers, to draw and lay out with' },
  'printed-goods': { label: 'Print', hint: 'Labels, packets, signs and other goods you print or sell' },
  logo: { label: 'Logo', hint: 'Part of a mark that stands for a business' },
  website: { label: 'Website', hint: 'The font file lies on a web server and every visitor loads it' },
  'online-store': { label: 'Online store', hint: 'The font file lies with the store’s provider and every visitor loads it' },
  'design-tool': { label: 'Online design tool', hint: 'The font file is uploaded to somebody else’s service' },
  documents: { label: 'Documents', hint: 'PDF files and e-books that carry the font inside' },
  app: { label: 'App or game', hint: 'The font file is part of a program you give out' },
  'customers-words': { label: 'Customers’ own words', hint: 'Other people type with it, as on made-to-order goods' },
  changing: { label: 'Changing the file', hint: 'Leaving characters out, renaming, redrawing' },
  'passing-on': { label: 'Passing the file on', hint: 'To a printer or a contractor who works for you' },
};

/** What licenses count, for which use, and in what. Common practice in terms of sale. The order is the order on screens. */
export const LIMITS = {
  'design-work': { use: 'design-work', unit: 'seats' },
  'printed-goods': { use: 'printed-goods', unit: 'units sold' },
  website: { use: 'website', unit: 'page views a month' },
  'website-domains': { use: 'website', unit: 'domains' },
  'online-store': { use: 'online-store', unit: 'page views a month' },
  documents: { use: 'documents', unit: 'titles' },
  app: { use: 'app', unit: 'titles' },
} as const satisfies Readonly<Record<string, { use: Use; unit: string }>>;
export type Limit = keyof typeof LIMITS;
export const LIMIT_KEYS = Object.keys(LIMITS) as [Limit, ...Limit[]];
/** The limits that bound a use. */
export const limitsOf = (use: Use): Limit[] => LIMIT_KEYS.filter((key) => LIMITS[key].use === use);

export type Answer = 'yes' | 'ask' | 'no';

/** The kinds of right somebody can grant. */
export const LICENSE_KINDS = ['open', 'free', 'bought', 'subscription', 'made-here', 'lent', 'unknown'] as const;
export type LicenseKind = (typeof LICENSE_KINDS)[number];
export const KIND_WORDS: Readonly<Record<LicenseKind, string>> = {
  open: 'Open license',
  free: 'Free, with conditions',
  bought: 'Bought',
  subscription: 'Subscription',
  'made-here': 'Made here',
  lent: 'Lent by a customer',
  unknown: 'Not known',
};
