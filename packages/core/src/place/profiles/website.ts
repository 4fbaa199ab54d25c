import { ALL_CHECKS, type Profile } from '../profile.js';

/** A website of one's own, as most web servers and site builders behave (common practice). */
export const WEBSITE: Profile = {
  id: 'website',
  name: 'Website',
  article: 'a website',
  about: 'A website that takes fonts',
  use: 'website',
  connector: 'shelf',
  accepts: {
    formats: ['woff2', 'woff'],
    prefer: 'woff2',
    maxBytes: 1024 * 1024,
    collections: 'refused',
    variable: 'accepted',
    color: 'accepted',
  },
  embedding: { restricted: 'refused', bitmapOnly: 'refused' },
  limits: { perUpload: null, faces: null, familyName: null },
  twins: 'beside',
  replacing: 'over',
  roles: [
    { id: 'headings', name: 'headings', label: 'Set the site’s headings in it' },
    { id: 'text', name: 'text', label: 'Set the site’s running text in it', running: true },
    { id: 'icons', name: 'icons', label: 'Draw the site’s icons from it' },
  ],
  shows: { text: '', capitals: false, spaced: false },
  families: 3,
  checks: ALL_CHECKS,
  settings: [
    { id: 'address', label: 'Address', kind: 'address', hint: '', example: 'https://our-shop.example' },
    { id: 'key', label: 'Key of the site', kind: 'secret', hint: 'Whoever runs the site has it', example: '' },
  ],
  fileAddress: '{address}/fonts/{name}',
  statement:
    'I declare that {workspace} has the right to put “{face}” on the website {place}, where every visitor’s browser loads the font file.',
  howTo: [
    'Copy the folder “fonts” to your web server as it is.',
    'Allow the file type woff2 there, if the server asks which types it may serve.',
    'Copy the style sheet beside it and name it in the head of your pages.',
    'Name the family in your own rules: headings first, running text only if it has all letters you need.',
    'Open a page, look at the headings, and reload without the browser’s store of old files.',
  ],
};
