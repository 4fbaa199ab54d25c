import { Worker } from 'node:worker_threads';
import type { Order } from './doers.js';

// In the middle of a task nothing is heard; a thread of its own looks whether the server is still there, from the very start.
new Worker(new URL('./orphan.js', import.meta.url), { workerData: process.ppid, resourceLimits: { maxOldGenerationSizeMb: 16 } }).unref();
// Its server is gone, and nobody wants an answer any more.
process.on('disconnect', () => process.exit(0));
// All that it can do is loaded afterwards: that takes a while.
const { carryOut } = await import('./carry-out.js');
process.on('message', (order) => void carryOut(order as Order, (reply) => process.send!(reply)));
process.send!({ ready: '' });
