import type { Answer, LicenseKind, Limit, Use } from '../uses.js';

/**
 * What licenses of a common kind usually say, to begin a record with. They are no verdicts: the person reads the terms
 * and corrects what differs. Common practice in terms of makers and sellers; correct or add entries here.
 */
export interface StartingPoint {
  id: string;
  name: string;
  hint: string;
  kind: LicenseKind;
  uses: Partial<Record<Use, Answer>>;
  limits?: Partial<Record<Limit, number>>;
  duties?: readonly string[];
}

export const STARTING_POINTS: readonly StartingPoint[] = [
  {
    id: 'personal',
    name: 'Personal use only',
    hint: 'Free to try and for oneself; nothing that is sold or stands for a business',
    kind: 'free',
    uses: {
      'design-work': 'ask',
      'printed-goods': 'no',
      logo: 'no',
      website: 'no',
      'online-store': 'no',
      'design-tool': 'no',
      documents: 'ask',
      app: 'no',
      'customers-words': 'no',
      changing: 'ask',
      'passing-on': 'no',
    },
  },
  {
    id: 'desktop',
    name: 'Desktop',
    hint: 'Bought for a number of computers; print and logos, no websites',
    kind: 'bought',
    uses: {
      'design-work': 'yes',
      'printed-goods': 'yes',
      logo: 'yes',
      website: 'no',
      'online-store': 'no',
      'design-tool': 'no',
      documents: 'ask',
      app: 'no',
      'customers-words': 'no',
      changing: 'ask',
      'passing-on': 'no',
    },
    limits: { 'design-work': 1 },
  },
  {
    id: 'web',
    name: 'Web, by page views',
    hint: 'Bought for a website up to a number of page views a month',
    kind: 'bought',
    uses: {
      'design-work': 'no',
      'printed-goods': 'no',
      logo: 'no',
      website: 'yes',
      'online-store': 'ask',
      'design-tool': 'no',
      documents: 'no',
      app: 'no',
      'customers-words': 'no',
      changing: 'ask',
      'passing-on': 'no',
    },
    limits: { website: 10_000, 'website-domains': 1 },
  },
  {
    id: 'subscription',
    name: 'Subscription',
    hint: 'As long as one pays; take the end from the contract',
    kind: 'subscription',
    uses: {
      'design-work': 'yes',
      'printed-goods': 'yes',
      logo: 'ask',
      website: 'yes',
      'online-store': 'ask',
      'design-tool': 'ask',
      documents: 'yes',
      app: 'no',
      'customers-words': 'no',
      changing: 'no',
      'passing-on': 'no',
    },
    duties: ['Take the face off its places when the subscription ends.', 'What was made while it ran may stay.'],
  },
  {
    id: 'made-here',
    name: 'Made here',
    hint: 'Our own drawing; everything is ours to allow',
    kind: 'made-here',
    uses: {
      'design-work': 'yes',
      'printed-goods': 'yes',
      logo: 'yes',
      website: 'yes',
      'online-store': 'yes',
      'design-tool': 'yes',
      documents: 'yes',
      app: 'yes',
      'customers-words': 'yes',
      changing: 'yes',
      'passing-on': 'yes',
    },
  },
  {
    id: 'lent',
    name: 'Lent by a customer',
    hint: 'For that customer’s jobs only',
    kind: 'lent',
    uses: {
      'design-work': 'yes',
      'printed-goods': 'yes',
      logo: 'ask',
      website: 'no',
      'online-store': 'no',
      'design-tool': 'no',
      documents: 'ask',
      app: 'no',
      'customers-words': 'no',
      changing: 'no',
      'passing-on': 'no',
    },
    duties: ['Remove the face when the customer’s job is done.'],
  },
];
