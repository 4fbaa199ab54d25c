import type { Profile } from '../profile.js';
import { COMPUTER } from './computer.js';

/** A computer that fetches its faces itself, with the command line; nothing has to reach it from outside. */
export const JOINED: Profile = {
  ...COMPUTER,
  id: 'joined-computer',
  name: 'Joined computer',
  article: 'a computer that fetches its faces itself',
  about: 'A computer of the business; it joins with a code, and puts the faces assigned to it into its fonts folder',
  connector: 'joined',
  // Its folder is its own: what others put there does not stand in the way.
  twins: 'replaces',
  replacing: 'over',
  settings: [{ id: 'address', label: 'Whose it is', kind: 'word', hint: 'A desk, a person or a room', example: 'Loft, left desk' }],
};
