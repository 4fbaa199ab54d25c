import { PlaceError, type Connector } from './connector.js';

const byHand = (): Promise<never> =>
  Promise.reject(new PlaceError('refused', 'A person puts files there; take the kit and follow its list. Nothing was sent.'));

/** A place without a connection: nobody but a person speaks to it. */
export const HAND: Connector = {
  id: 'hand',
  try: () => Promise.resolve(),
  list: byHand,
  put: byHand,
  read: byHand,
  remove: byHand,
};
