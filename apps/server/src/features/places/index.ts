export { createDelivery, deliveryWork, describeDelivery, removeInstall } from './deliveries.js';
export { checkKit, createKit, openKit, writeKit } from './kit.js';
export { checkFaces, describePlaces, findPlace, profileOf } from './places.js';
export { PlaceEntity, Statement, type PlaceRow, type StatementRow } from './rows.js';
export { placesRoutes } from './routes.js';
export { placesRows, placesBytes } from './rows.js';
