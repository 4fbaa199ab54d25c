import { PlaceError, type Connector } from './connector.js';

const byHand = (): Promise<never> =>
  Promise.reject(new PlaceError('refused', 'A person puts files there; take the kit and follow its list. Nothing was sent.'));

const joined = (): Promise<never> =>
  Promise.reject(new PlaceError('refused', 'This computer fetches its faces itself; assign them on its page. Nothing was sent.'));

const nowhere = (): null => null;

/** A computer that asks by itself; nobody speaks to it. */
export const JOINED: Connector = {
  id: 'joined',
  where: nowhere,
  try: () => Promise.resolve(),
  list: joined,
  put: joined,
  read: joined,
  remove: joined,
};

/** A place without a connection: nobody but a person speaks to it. */
export const HAND: Connector = {
  id: 'hand',
  where: nowhere,
  try: () => Promise.resolve(),
  list: byHand,
  put: byHand,
  read: byHand,
  remove: byHand,
};
