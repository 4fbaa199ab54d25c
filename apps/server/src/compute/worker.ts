import { parentPort } from 'node:worker_threads';
import { describeFailure, tasks } from './tasks.js';

interface Order {
  id: number;
  task: keyof typeof tasks;
  args: unknown[];
}

parentPort!.on('message', (order: Order) => {
  const run = tasks[order.task] as (...args: unknown[]) => unknown;
  Promise.resolve()
    .then(() => run(...order.args))
    .then(
      (value) => parentPort!.postMessage({ id: order.id, value }),
      (error: unknown) => parentPort!.postMessage({ id: order.id, failure: describeFailure(error) }),
    );
});
