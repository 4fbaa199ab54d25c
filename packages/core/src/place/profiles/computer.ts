import { ALL_CHECKS, type Profile } from '../profile.js';

/** A computer with its folder of fonts (common practice). */
export const COMPUTER: Profile = {
  id: 'computer',
  name: 'Computer',
  article: 'a computer',
  about: 'A computer whose programs list the fonts that are installed on it',
  use: 'design-work',
  connector: 'shelf',
  accepts: {
    formats: ['otf', 'ttf'],
    prefer: 'otf',
    maxBytes: 100 * 1024 * 1024,
    collections: 'accepted',
    variable: 'accepted',
    color: 'accepted',
  },
  embedding: { restricted: 'accepted', bitmapOnly: 'accepted' },
  limits: { perUpload: null, faces: null, familyName: null },
  twins: 'refused',
  replacing: 'remove-first',
  roles: [],
  shows: { text: '', capitals: false, spaced: false },
  families: null,
  checks: ALL_CHECKS,
  settings: [
    { id: 'address', label: 'Address', kind: 'address', hint: '', example: 'https://desk.example' },
    { id: 'key', label: 'Key of the computer', kind: 'secret', hint: 'Shown on it', example: '' },
  ],
  fileAddress: null,
  statement: 'I declare that {workspace} has the right to install “{face}” on the computer {place}.',
  howTo: [
    'Remove the old version of the face first, if there is one.',
    'Open each file and press “Install”, for all people who use the computer.',
    'Start the programs again that should list the face.',
    'Set a word in it and look at its letters.',
    'In a program without a table of characters, paste special characters from the list in this folder.',
  ],
};
