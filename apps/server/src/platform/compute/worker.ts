import { readlinkSync } from 'node:fs';
import { parentPort } from 'node:worker_threads';
import { carryOut } from './carry-out.js';
import type { Order } from './doers.js';

/** Where the system tells of this very thread; empty where it does not. Source: proc(5), /proc/thread-self. */
function ownPath(): string {
  try {
    return `/proc/${readlinkSync('/proc/thread-self')}`;
  } catch {
    return '';
  }
}

parentPort!.on('message', (order: Order) => void carryOut(order, (reply) => parentPort!.postMessage(reply)));
parentPort!.postMessage({ ready: ownPath() });
