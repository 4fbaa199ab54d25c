import { Worker } from 'node:worker_threads';
import { carryOut } from './carry-out.js';
import type { Order } from './doers.js';

process.on('message', (order) => void carryOut(order as Order, (reply) => process.send!(reply)));
// Its server is gone, and nobody wants an answer any more.
process.on('disconnect', () => process.exit(0));
// In the middle of a task nothing is heard; a thread of its own looks whether the server is still there.
new Worker(new URL('./orphan.js', import.meta.url), { workerData: process.ppid, resourceLimits: { maxOldGenerationSizeMb: 16 } }).unref();
process.send!({ ready: '' });
