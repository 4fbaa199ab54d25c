/** Why a place does not do what was asked: HTTP status and a reason for whoever asked. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    reason: string,
  ) {
    super(reason);
  }
}
