export { describeIntakes } from './describe.js';
export { followIntake, intakeWork } from './job.js';
export { sweepUploads } from './receive.js';
export { intakeRoutes } from './routes.js';
export { Bundle, IntakeEntity, Item } from './rows.js';
export { intakeRows } from './rows.js';
