/** What can be wrong with a font file, as a short code beside the sentence a person reads. */
export type FontErrorCode =
  | 'empty'
  | 'not-a-font'
  | 'text-not-font'
  | 'truncated'
  | 'bad-directory'
  | 'missing-table'
  | 'bad-table'
  | 'bad-compression'
  | 'too-large'
  | 'too-many-faces'
  | 'no-such-face'
  | 'unsupported'
  | 'outline-conversion'
  | 'does-not-fit';

/** The only error a reader or writer of this folder throws. */
export class FontError extends Error {
  readonly code: FontErrorCode;
  readonly table: string | undefined;
  readonly offset: number | undefined;

  constructor(code: FontErrorCode, message: string, where: { table?: string; offset?: number } = {}) {
    super(message);
    this.name = 'FontError';
    this.code = code;
    this.table = where.table;
    this.offset = where.offset;
  }
}

/**
 * Lets only a FontError be dealt with: whatever else was thrown is a fault of ours and goes on.
 * @throws what was caught, when it is no FontError
 */
export function expectFontError(error: unknown): asserts error is FontError {
  if (!(error instanceof FontError)) throw error;
}
