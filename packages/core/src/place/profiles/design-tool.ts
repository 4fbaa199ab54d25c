import { ALL_CHECKS, type Profile } from '../profile.js';

/** An online design tool with brand sets, as such services usually behave (common practice). */
export const DESIGN_TOOL: Profile = {
  id: 'design-tool',
  name: 'Online design tool',
  article: 'an online design tool',
  about: 'A service in the browser that designers lay out with; faces lie in brand sets',
  use: 'design-tool',
  connector: 'shelf',
  accepts: {
    formats: ['otf', 'ttf', 'woff'],
    prefer: 'otf',
    maxBytes: 20 * 1024 * 1024,
    collections: 'accepted',
    variable: 'accepted',
    color: 'refused',
  },
  embedding: { restricted: 'refused', bitmapOnly: 'refused' },
  limits: { perUpload: 20, faces: 100, familyName: 64 },
  twins: 'replaces',
  replacing: 'over',
  roles: [
    { id: 'headline', name: 'headline', label: 'Make it the headline face of the set' },
    { id: 'text', name: 'text', label: 'Make it the text face of the set', running: true },
    { id: 'accent', name: 'accent', label: 'Make it the accent face of the set' },
  ],
  shows: { text: '', capitals: false, spaced: true },
  families: null,
  checks: ALL_CHECKS,
  settings: [
    {
      id: 'address',
      label: 'Address of the brand set',
      kind: 'address',
      hint: 'A face is only seen in its own set',
      example: 'https://tool.example/sets/our-brand',
    },
    { id: 'key', label: 'Key of the account', kind: 'secret', hint: 'In the settings of your account there', example: '' },
  ],
  fileAddress: null,
  statement: 'I declare that {workspace} has the right to upload “{face}” to the online design tool {place} and to design with it there.',
  howTo: [
    'Open the brand set in which the face shall be seen; in another one it will look as if it were gone.',
    'Take the font files out of this folder; the tool takes no ZIP.',
    'Upload up to 20 files at once.',
    'Confirm the question about rights; the statement you made is in this folder.',
    'Set a word in the face on a board and look at its letters.',
  ],
};
