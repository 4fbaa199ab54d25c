import { ComputeError } from '../compute/error.js';
import { isAway } from '../database/away.js';

/** An answer that says no: status, a code for programs, a sentence for people. */
export class HttpProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly field?: string,
    /** Seconds after which trying again makes sense. */
    readonly retryAfter?: number,
  ) {
    super(message);
  }
}

export const notFound = (what: string): HttpProblem => new HttpProblem(404, 'not-found', `${what} is not here, or not in this workspace.`);
export const conflict = (message: string): HttpProblem => new HttpProblem(409, 'conflict', message);
export const invalid = (message: string, field?: string): HttpProblem => new HttpProblem(422, 'invalid', message, field);
/** A save that was made on an older version than is kept. */
export const stale = (what: string): HttpProblem =>
  new HttpProblem(409, 'stale', `${what}. Nothing of yours was kept yet and nothing of theirs is lost: look at both and save again.`);

/** What an error is told as: to a browser, or to whoever comes back to a job. */
export function problemOf(error: unknown): { status: number; code: string; message: string; field?: string; retryAfter?: number } {
  if (error instanceof HttpProblem) {
    const { status, code, message, field, retryAfter } = error;
    return { status, code, message, ...(field === undefined ? {} : { field }), ...(retryAfter === undefined ? {} : { retryAfter }) };
  }
  if (error instanceof ComputeError && error.busy)
    return { status: 503, code: 'busy', message: `${error.message} Nothing was changed; try again in half a minute.`, retryAfter: 30 };
  if (error instanceof ComputeError && error.failure.code !== 'internal')
    return { status: 422, code: error.failure.code, message: error.gaveUp ? `${error.message} Nothing was changed.` : error.message };
  if (isAway(error))
    return {
      status: 503,
      code: 'database-away',
      message: 'The database does not answer just now. Nothing was changed; try again in a moment.',
      retryAfter: 5,
    };
  const { status } = error as { status?: number };
  if (status === 400) return { status, code: 'malformed', message: 'The request is not well-formed JSON.' };
  if (status === 413) return { status, code: 'malformed', message: 'The request is too large.' };
  return {
    status: 500,
    code: 'internal',
    message: 'Something went wrong on our side. Nothing was changed; try again, and tell us if it happens twice.',
  };
}
