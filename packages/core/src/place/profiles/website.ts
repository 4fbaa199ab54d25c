import type { Profile } from '../profile.js';

/** A website of one's own, as most web servers and site builders behave (common practice). */
export const WEBSITE: Profile = {
  id: 'website',
  name: 'Website',
  article: 'a website',
  about: 'A website that takes fonts',
  use: 'website',
  connector: 'website',
  accepts: { formats: ['woff2', 'woff'], prefer: 'woff2', maxBytes: 1024 * 1024 },
  embedding: { restricted: 'refused', bitmapOnly: 'refused' },
  roles: [{ id: 'headings', label: 'Set the site’s headings in it' }],
  checks: ['rights', 'soundness', 'embedding', 'format', 'size', 'changed'],
  settings: [
    { id: 'address', label: 'Address', kind: 'address', hint: '', example: 'https://our-shop.example' },
    { id: 'key', label: 'Key of the site', kind: 'secret', hint: 'Whoever runs the site has it', example: '' },
  ],
  fileAddress: '{address}/fonts/{name}',
  statement:
    'I declare that {workspace} has the right to put “{face}” on the website {place}, where every visitor’s browser loads the font file.',
};
