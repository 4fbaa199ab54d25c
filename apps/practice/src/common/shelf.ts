import { createHash, randomUUID } from 'node:crypto';
import { cp, mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** A face that lies here. */
export interface Entry {
  name: string;
  family: string;
  style: string;
  format: string;
  sha256: string;
  bytes: number;
  at: string;
  /** Which part of the place it lies in, as a brand set or a kind. */
  part: string;
  statement: string;
  /** Whether customers see it, where that is a question. */
  offered: boolean;
}

interface State {
  faces: Entry[];
  /** What each role is given to, by role; a file's name. */
  roles: Record<string, string | null>;
  settings: Record<string, string>;
  /** How many files an upload has brought. */
  uploads: Record<string, number>;
}

/** A place's own disk: files in a folder, and one small file that says what they are. */
export class Shelf {
  private state: State = { faces: [], roles: {}, settings: {}, uploads: {} };
  private queue: Promise<unknown> = Promise.resolve();

  private constructor(private readonly dir: string) {}

  static async open(dir: string, settings: Record<string, string> = {}): Promise<Shelf> {
    const shelf = new Shelf(dir);
    await mkdir(join(dir, 'files'), { recursive: true });
    shelf.state.settings = { ...settings };
    try {
      const kept = JSON.parse(await readFile(join(dir, 'shelf.json'), 'utf8')) as State;
      shelf.state = { ...kept, settings: { ...settings, ...kept.settings } };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    }
    return shelf;
  }

  /** Puts the folder back to how a copy of it is. */
  startOver(copy: string): Promise<void> {
    return this.alone(async () => {
      const kept = JSON.parse(await readFile(join(copy, 'shelf.json'), 'utf8')) as State;
      await cp(join(copy, 'files'), join(this.dir, 'files'), { recursive: true, force: true });
      await this.save(kept);
    });
  }

  faces(part?: string): Entry[] {
    return this.state.faces.filter((f) => part === undefined || f.part === part);
  }

  find(name: string, part?: string): Entry | null {
    return this.faces(part).find((f) => f.name === name) ?? null;
  }

  role(role: string, part = ''): string | null {
    return this.state.roles[`${part}/${role}`] ?? null;
  }

  setting(key: string): string {
    return this.state.settings[key] ?? '';
  }

  uploaded(id: string): number {
    return this.state.uploads[id] ?? 0;
  }

  read(entry: Pick<Entry, 'sha256'>): Promise<Buffer> {
    return readFile(join(this.dir, 'files', entry.sha256));
  }

  /** Keeps a file; one of the same name in the same part gives way, and so does what `instead` names. */
  put(entry: Omit<Entry, 'sha256' | 'bytes' | 'at'>, data: Buffer, upload: string, instead: readonly string[] = []): Promise<Entry> {
    return this.alone(async () => {
      const kept: Entry = {
        ...entry,
        sha256: createHash('sha256').update(data).digest('hex'),
        bytes: data.length,
        at: new Date().toISOString(),
      };
      await this.write(join(this.dir, 'files', kept.sha256), data);
      const gone = this.state.faces.filter((f) => f.part === kept.part && (f.name === kept.name || instead.includes(f.name)));
      // A newer file stands where the older one stood.
      const at = gone[0] ? this.state.faces.indexOf(gone[0]) : this.state.faces.length;
      const faces = this.state.faces.filter((f) => !gone.includes(f));
      await this.save({
        ...this.state,
        faces: [...faces.slice(0, at), kept, ...faces.slice(at)],
        uploads: upload ? { ...this.lastUploads(), [upload]: this.uploaded(upload) + 1 } : this.state.uploads,
      });
      return kept;
    });
  }

  remove(name: string, part: string): Promise<boolean> {
    return this.alone(async () => {
      const entry = this.find(name, part);
      if (!entry) return false;
      const faces = this.state.faces.filter((f) => f !== entry);
      const roles = Object.fromEntries(
        Object.entries(this.state.roles).map(([key, value]) => [key, key.startsWith(`${part}/`) && value === name ? null : value]),
      );
      await this.save({ ...this.state, faces, roles });
      if (!faces.some((f) => f.sha256 === entry.sha256)) await rm(join(this.dir, 'files', entry.sha256), { force: true });
      return true;
    });
  }

  change(name: string, part: string, what: Partial<Pick<Entry, 'part' | 'offered'>>): Promise<void> {
    return this.alone(() =>
      this.save({ ...this.state, faces: this.state.faces.map((f) => (f.name === name && f.part === part ? { ...f, ...what } : f)) }),
    );
  }

  /** Puts these first, in this order; the rest follow as they were. */
  setOrder(names: readonly string[], part = ''): Promise<void> {
    return this.alone(() => {
      const first = names.flatMap((name) => this.faces(part).filter((f) => f.name === name));
      return this.save({ ...this.state, faces: [...first, ...this.state.faces.filter((f) => !first.includes(f))] });
    });
  }

  setRole(role: string, name: string | null, part = ''): Promise<void> {
    return this.alone(() => this.save({ ...this.state, roles: { ...this.state.roles, [`${part}/${role}`]: name } }));
  }

  setSettings(settings: Record<string, string>): Promise<void> {
    return this.alone(() => this.save({ ...this.state, settings: { ...this.state.settings, ...settings } }));
  }

  /** Only the last uploads are counted; old ones are over. */
  private lastUploads(): Record<string, number> {
    return Object.fromEntries(Object.entries(this.state.uploads).slice(-50));
  }

  /** One change at a time. */
  private alone<T>(change: () => Promise<T>): Promise<T> {
    const next = this.queue.then(change);
    this.queue = next.catch(() => undefined);
    return next;
  }

  private async save(state: State): Promise<void> {
    await this.write(join(this.dir, 'shelf.json'), JSON.stringify(state, null, 1));
    this.state = state;
  }

  /** Written beside and renamed, so that a killed process leaves the old file or the new one. */
  private async write(path: string, data: Buffer | string): Promise<void> {
    const part = `${path}.${randomUUID()}.part`;
    await writeFile(part, data);
    await rename(part, path);
  }
}
