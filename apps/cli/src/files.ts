import { rename, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { FontError, OS2, type Face } from '@orderly-glyph/core';

/** A file that cannot be opened; the sentence names it. */
export class Unreadable extends Error {}

/** Written beside the target and renamed, so that a killed process leaves no half file under the wanted name. */
export async function whole(path: string, fill: (partial: string) => Promise<unknown>): Promise<void> {
  const partial = join(dirname(path), `.${basename(path)}.${process.pid}.part`);
  try {
    await fill(partial);
    await rename(partial, path);
  } catch (error) {
    await rm(partial, { force: true });
    throw error;
  }
}

/** Says on standard error why nothing was written, and gives the exit code for that. */
export function failed(output: string, error: unknown): 1 {
  const message =
    error instanceof FontError || error instanceof Unreadable
      ? error.message
      : `${output} cannot be written (${(error as NodeJS.ErrnoException).code ?? String(error)}).`;
  process.stderr.write(`glyph: ${message} Nothing was written.\n`);
  return 1;
}

/** Bit 8 of fsType: the maker does not want the face cut down. Source: OpenType specification, OS/2, fsType. */
const NO_SUBSETTING = 0x0100;

/** Says on standard error that a file's own permission speaks against cutting it down; whether that is allowed is for its license. */
export function noteOnSubsetting(face: Face, path: string): void {
  if (((face.table(OS2)?.fsType ?? 0) & NO_SUBSETTING) !== 0)
    process.stderr.write(`glyph: ${path} says that it must not be cut down (OS/2 fsType, bit 8). See that its license allows it.\n`);
}
