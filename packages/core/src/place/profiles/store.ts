import { ALL_CHECKS, type Profile } from '../profile.js';

/** An online store that takes a name and the address of a WOFF2 for each role (common practice). */
export const STORE: Profile = {
  id: 'store',
  name: 'Online store',
  article: 'an online store',
  about: 'A store at a provider; a face is its name and the address of a file, for headings, text or buttons',
  use: 'online-store',
  connector: 'shelf',
  accepts: {
    formats: ['woff2'],
    prefer: 'woff2',
    maxBytes: 512 * 1024,
    collections: 'refused',
    variable: 'accepted',
    color: 'accepted',
  },
  embedding: { restricted: 'refused', bitmapOnly: 'refused' },
  limits: { perUpload: null, faces: 30, familyName: 64 },
  twins: 'beside',
  replacing: 'over',
  roles: [
    { id: 'headings', name: 'headings', label: 'Set the store’s headings in it' },
    { id: 'text', name: 'text', label: 'Set the store’s running text in it', running: true },
    { id: 'buttons', name: 'buttons', label: 'Set the store’s buttons in it' },
  ],
  shows: { text: 'Add to basket 0123456789 £€', capitals: true, spaced: true },
  families: 3,
  checks: ALL_CHECKS,
  settings: [
    { id: 'address', label: 'Address of the store', kind: 'address', hint: '', example: 'https://store.example/our-shop' },
    { id: 'key', label: 'Key of the store', kind: 'secret', hint: 'In the settings of your store', example: '' },
  ],
  fileAddress: '{address}/fonts/{name}',
  statement:
    'I declare that {workspace} has the right to put “{face}” into the online store {place}, where every visitor’s browser loads the font file.',
  howTo: [
    'Upload the WOFF2 file to the files of your store and copy its address.',
    'Open the settings of type and choose the role: headings, text or buttons.',
    'Enter the name of the family as it stands here, and the address.',
    'Switch own faces on.',
    'Look at a product page before and after, on a phone as well.',
  ],
};
