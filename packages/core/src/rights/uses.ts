/** What one may want to do with a face. The order is the order on screens. */
export const USES = ['printed-goods', 'website', 'design-tool', 'customers-words', 'changing'] as const;
export type Use = (typeof USES)[number];

export const USE_WORDS: Readonly<Record<Use, { label: string; hint: string }>> = {
  'printed-goods': { label: 'Print', hint: 'Labels, packets, signs and other goods you print or sell' },
  website: { label: 'Website', hint: 'The font file lies on a web server and every visitor loads it' },
  'design-tool': { label: 'Online design tool', hint: 'The font file is uploaded to somebody else’s service' },
  'customers-words': { label: 'Customers’ own words', hint: 'Other people type with it, as on made-to-order goods' },
  changing: { label: 'Changing the file', hint: 'Leaving characters out, renaming, redrawing' },
};

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
