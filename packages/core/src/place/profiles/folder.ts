import { ALL_CHECKS, type Profile } from '../profile.js';

/** A folder on the server that designers and print programs read fonts from (common practice). */
export const FOLDER: Profile = {
  id: 'folder',
  name: 'Folder on the server',
  article: 'a folder on the server',
  about: 'A folder that computers of the business read fonts from',
  use: 'design-work',
  connector: 'folder',
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
  twins: 'beside',
  replacing: 'remove-first',
  roles: [],
  shows: { text: '', capitals: false, spaced: false },
  families: null,
  checks: ALL_CHECKS,
  settings: [
    {
      id: 'address',
      label: 'Folder',
      kind: 'folder',
      hint: 'A name; whoever runs the server decides where such folders lie',
      example: 'studio',
    },
  ],
  fileAddress: null,
  statement: 'I declare that {workspace} has the right to install “{face}” on the computers that read the folder {place}.',
  howTo: [
    'Open the folder that the computers read fonts from.',
    'Remove the old version of the face, if there is one.',
    'Copy the files into it.',
    'Start the programs again that should list the face.',
    'Set a word in it and look.',
  ],
};
