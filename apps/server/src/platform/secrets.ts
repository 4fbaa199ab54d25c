import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { existsSync, linkSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const PREFIX = 'aes-256-gcm:';

export const isSealed = (text: string): boolean => text.startsWith(PREFIX);

/**
 * Keeps keys of places so that who reads the database alone does not have them: AES-256-GCM (NIST SP 800-38D), under a key that
 * lies in the data folder and is made once.
 */
export class Secrets {
  private readonly key: Buffer;

  constructor(dataDir: string) {
    mkdirSync(dataDir, { recursive: true });
    const file = join(dataDir, 'places.key');
    if (!existsSync(file)) {
      const part = `${file}.${process.pid}.part`;
      writeFileSync(part, randomBytes(32).toString('base64'), { mode: 0o600 });
      try {
        // Whoever comes first wins; two servers may start at once.
        linkSync(part, file);
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      }
      rmSync(part, { force: true });
    }
    this.key = Buffer.from(readFileSync(file, 'utf8'), 'base64');
  }

  seal(plain: string): string {
    if (plain === '') return '';
    const iv = randomBytes(12);
    const cipher = createCipheriv('aes-256-gcm', this.key, iv);
    const body = Buffer.concat([cipher.update(plain, 'utf8'), cipher.final()]);
    return PREFIX + Buffer.concat([iv, cipher.getAuthTag(), body]).toString('base64');
  }

  /** What was sealed; empty when it cannot be opened, as after a restore on another machine. Older rows are plain. */
  open(sealed: string): string {
    if (!isSealed(sealed)) return sealed;
    try {
      const data = Buffer.from(sealed.slice(PREFIX.length), 'base64');
      const decipher = createDecipheriv('aes-256-gcm', this.key, data.subarray(0, 12));
      decipher.setAuthTag(data.subarray(12, 28));
      return Buffer.concat([decipher.update(data.subarray(28)), decipher.final()]).toString('utf8');
    } catch {
      return '';
    }
  }
}
