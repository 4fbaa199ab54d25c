import type { TaskFailure } from './tasks.js';

export class ComputeError extends Error {
  constructor(readonly failure: TaskFailure) {
    super(failure.message);
  }

  /** Whether the thread or process had to be ended over it: trying again may end it again. */
  get gaveUp(): boolean {
    return ['too-slow', 'too-hungry', 'died'].includes(this.failure.code);
  }

  /** Whether the machine, not the work, was the reason: it is tried again later. */
  get busy(): boolean {
    return this.failure.code === 'busy';
  }

  get cancelled(): boolean {
    return this.failure.code === 'cancelled';
  }
}
