import { parentPort } from 'node:worker_threads';
import { carryOut, type Order } from './carry-out.js';

parentPort!.on('message', (order: Order) => void carryOut(order, (reply) => parentPort!.postMessage(reply)));
