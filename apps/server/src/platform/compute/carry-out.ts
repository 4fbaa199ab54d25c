import type { Order, Reply } from './doers.js';
import { listen } from './report.js';
import { describeFailure, tasks } from './tasks.js';

/** Runs one order and replies with how far it is, then with its value or its failure, all as plain data. */
export async function carryOut(order: Order, reply: (reply: Reply) => void): Promise<void> {
  const run = tasks[order.task] as (...args: unknown[]) => unknown;
  listen((...progress) => reply({ id: order.id, progress }));
  try {
    reply({ id: order.id, value: await run(...order.args) });
  } catch (error) {
    reply({ id: order.id, failure: describeFailure(error) });
  }
}
