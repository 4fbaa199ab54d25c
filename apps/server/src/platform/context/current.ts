import { AsyncLocalStorage } from 'node:async_hooks';

/** For whom the code at hand works: whose share of the machine it takes, and who may stop it. */
export interface Current {
  /** The workspace, or for pages without one the address they are asked from. */
  workspaceId: string;
  /** The person; null for what nobody waits for. */
  accountId: string | null;
  /** Ends what is being computed. */
  signal: AbortSignal | null;
  /** Is told how far what is computed has come. */
  progress: ((done: number, total: number, what: string) => void) | null;
  /** What is written was let in before, with room for three times as much: an upload that is sorted now. */
  admitted: boolean;
  /** The job whose changes count once: each transaction says so in its row, or is taken back. */
  once: { jobId: string; by: string } | null;
}

const storage = new AsyncLocalStorage<Current>();

/** Null outside of any request or job. */
export const current = (): Current | null => storage.getStore() ?? null;

/** Runs work for somebody. */
export const workingFor = <T>(who: Current, work: () => T): T => storage.run(who, work);
