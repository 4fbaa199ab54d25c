import { callBytes, routes } from '../../platform/api';
import type { FinderTasks } from './finder-tasks';

/** Faces of one answer of the server. */
const PART = 200;

/** A worker that finds faces, with the shapes of the library in it. */
export class Finder {
  private readonly worker = new Worker(new URL('./finder.worker.ts', import.meta.url), { type: 'module' });
  private next = 1;
  private readonly waiting = new Map<number, { resolve: (value: unknown) => void; reject: (error: Error) => void }>();
  /** Faces that are loaded. */
  faces = 0;
  private loading: Promise<void> | null = null;

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<{ id: number; value?: unknown; problem?: string }>) => {
      const own = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if (data.problem !== undefined) own?.reject(new Error(data.problem));
      else own?.resolve(data.value);
    };
    this.worker.onerror = () => {
      for (const { reject } of this.waiting.values())
        reject(new Error('The picture could not be worked on. Reload the page and try again.'));
      this.waiting.clear();
    };
  }

  run<K extends keyof FinderTasks>(task: K, ...args: Parameters<FinderTasks[K]>): Promise<ReturnType<FinderTasks[K]>> {
    const id = this.next++;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve: resolve as (value: unknown) => void, reject });
      this.worker.postMessage({ id, task, args });
    });
  }

  /** Loads what the library's letters look like; once, and again after a failure. */
  load(seen: (faces: number) => void): Promise<void> {
    this.loading ??= this.loadAll(seen).catch((error: unknown) => {
      this.loading = null;
      throw error;
    });
    return this.loading;
  }

  private async loadAll(seen: (faces: number) => void): Promise<void> {
    for (;;) {
      const pack = await callBytes(routes.getShapes, { query: { from: this.faces } });
      const count = await this.run('addShapes', pack);
      this.faces += count;
      seen(this.faces);
      if (count < PART) return;
    }
  }

  close(): void {
    this.worker.terminate();
    this.waiting.clear();
  }
}
