import { ALL_CHECKS, type Profile } from '../profile.js';

/** A print or apparel shop whose customers set their own words (common practice). */
export const PRINT_SHOP: Profile = {
  id: 'print-shop',
  name: 'Print shop',
  article: 'a print shop',
  about: 'A shop whose customers choose a face from a list and type words of their own',
  use: 'customers-words',
  connector: 'shelf',
  accepts: {
    formats: ['ttf', 'otf'],
    prefer: 'ttf',
    maxBytes: 5 * 1024 * 1024,
    collections: 'refused',
    variable: 'refused',
    color: 'refused',
  },
  embedding: { restricted: 'refused', bitmapOnly: 'refused' },
  limits: { perUpload: 25, faces: 200, familyName: 40 },
  twins: 'refused',
  replacing: 'remove-first',
  roles: [
    { id: 'offered', name: 'offered', label: 'Offer it to customers', many: true },
    { id: 'withheld', name: 'withheld', label: 'Keep it there, withheld from customers', many: true },
  ],
  shows: { text: "ABCDEFGHIJKLMNOPQRSTUVWXYZ abcdefghijklmnopqrstuvwxyz 0123456789 &!?.,'-", capitals: true, spaced: true },
  families: null,
  checks: ALL_CHECKS,
  settings: [
    { id: 'address', label: 'Address of the shop’s office', kind: 'address', hint: '', example: 'https://print.example/our-shop' },
    { id: 'key', label: 'Key of the office', kind: 'secret', hint: 'The shop gave it to you', example: '' },
  ],
  fileAddress: null,
  statement: 'I declare that {workspace} has the right to let customers of {place} set their own words in “{face}”.',
  howTo: [
    'Open the office of the print shop and the kind the face belongs to.',
    'Upload up to 25 TTF or OTF files at once.',
    'Look at the preview picture: it is drawn from the file.',
    'Accept the terms; the statement you made is in this folder.',
    'Choose whether customers are offered the face now or later.',
  ],
};
