/** An answer that says no: status, a code for programs, a sentence for people. */
export class HttpProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly field?: string,
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
