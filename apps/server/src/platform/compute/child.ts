import { carryOut, type Order } from './carry-out.js';

process.on('message', (order) => void carryOut(order as Order, (reply) => process.send!(reply)));
// Its server is gone, and nobody wants an answer any more.
process.on('disconnect', () => process.exit(0));
