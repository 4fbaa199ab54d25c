import type { Profile } from '../profile.js';

/** A folder on the server that designers and print programs read fonts from (common practice). */
export const FOLDER: Profile = {
  id: 'folder',
  name: 'Folder on the server',
  article: 'a folder on the server',
  about: 'A folder that computers of the business read fonts from',
  use: 'design-work',
  connector: 'folder',
  accepts: { formats: ['otf', 'ttf'], prefer: 'otf', maxBytes: 100 * 1024 * 1024 },
  embedding: { restricted: 'accepted', bitmapOnly: 'accepted' },
  roles: [],
  checks: ['rights', 'soundness', 'format', 'size', 'changed'],
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
};
