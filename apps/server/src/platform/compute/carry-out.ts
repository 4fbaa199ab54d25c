import { describeFailure, type TaskFailure, tasks } from './tasks.js';

export interface Order {
  id: number;
  task: keyof typeof tasks;
  args: unknown[];
}

/** Runs one order and replies with its value or its failure, both as plain data. */
export async function carryOut(
  order: Order,
  reply: (reply: { id: number; value?: unknown; failure?: TaskFailure }) => void,
): Promise<void> {
  const run = tasks[order.task] as (...args: unknown[]) => unknown;
  try {
    reply({ id: order.id, value: await run(...order.args) });
  } catch (error) {
    reply({ id: order.id, failure: describeFailure(error) });
  }
}
