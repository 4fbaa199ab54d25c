import type { Profile } from '../profile.js';

/** A website of one's own, as most web servers and site builders behave (common practice). */
export const WEBSITE: Profile = {
  id: 'website',
  name: 'Website',
  use: 'website',
  formats: ['woff2', 'woff'],
  prefer: 'woff2',
  maxBytes: 1024 * 1024,
  embedding: { restricted: 'refused', bitmapOnly: 'refused' },
  statement:
    'I declare that {workspace} has the right to put “{face}” on the website {place}, where every visitor’s browser loads the font file.',
};
