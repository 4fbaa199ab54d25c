export { dayIn, todayOf } from './day.js';
export { accountRoutes } from './routes.js';
export { Account, Workspace } from './rows.js';
export { callerOf, findCaller } from './sessions.js';
export { accountsRows } from './rows.js';
export { type Counted, returnTry, takeTry } from './tries.js';
