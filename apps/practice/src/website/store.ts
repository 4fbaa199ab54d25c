import { createHash, randomUUID } from 'node:crypto';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

export interface StoredFont {
  name: string;
  family: string;
  format: 'woff2' | 'woff';
  sha256: string;
  bytes: number;
  at: string;
}

interface State {
  fonts: StoredFont[];
  /** File name of the font the headings are set in. */
  headings: string | null;
}

/** The site's own disk: files in a folder, and one small file that says what they are. */
export class SiteStore {
  private state: State = { fonts: [], headings: null };
  private queue: Promise<unknown> = Promise.resolve();

  private constructor(private readonly dir: string) {}

  static async open(dir: string): Promise<SiteStore> {
    const store = new SiteStore(dir);
    await mkdir(join(dir, 'fonts'), { recursive: true });
    try {
      store.state = JSON.parse(await readFile(join(dir, 'site.json'), 'utf8')) as State;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    }
    return store;
  }

  list(): StoredFont[] {
    return [...this.state.fonts];
  }

  heading(): StoredFont | null {
    return this.state.fonts.find((f) => f.name === this.state.headings) ?? null;
  }

  has(name: string): boolean {
    return this.state.fonts.some((f) => f.name === name);
  }

  read(name: string): Promise<Buffer> {
    return readFile(join(this.dir, 'fonts', name));
  }

  put(name: string, family: string, format: 'woff2' | 'woff', data: Buffer): Promise<StoredFont> {
    return this.alone(async () => {
      const font: StoredFont = {
        name,
        family,
        format,
        sha256: createHash('sha256').update(data).digest('hex'),
        bytes: data.length,
        at: new Date().toISOString(),
      };
      await this.write(join(this.dir, 'fonts', name), data);
      await this.save({ ...this.state, fonts: [...this.state.fonts.filter((f) => f.name !== name), font] });
      return font;
    });
  }

  remove(name: string): Promise<void> {
    return this.alone(async () => {
      await this.save({
        fonts: this.state.fonts.filter((f) => f.name !== name),
        headings: this.state.headings === name ? null : this.state.headings,
      });
      await rm(join(this.dir, 'fonts', name), { force: true });
    });
  }

  setHeadings(name: string | null): Promise<void> {
    return this.alone(() => this.save({ ...this.state, headings: name }));
  }

  /** One change at a time. */
  private alone<T>(change: () => Promise<T>): Promise<T> {
    const next = this.queue.then(change);
    this.queue = next.catch(() => undefined);
    return next;
  }

  private async save(state: State): Promise<void> {
    await this.write(join(this.dir, 'site.json'), JSON.stringify(state, null, 2));
    this.state = state;
  }

  /** Written beside and renamed, so that a killed process leaves the old file or the new one. */
  private async write(path: string, data: Buffer | string): Promise<void> {
    const part = `${path}.${randomUUID()}.part`;
    await writeFile(part, data);
    await rename(part, path);
  }
}
