import { readlinkSync } from 'node:fs';
import { parentPort } from 'node:worker_threads';
import { carryOutRead, proveGlyph, type ProofOrder, type ReadOrder } from '@orderly-glyph/core';
import { nodePaths, nodeSvgEngine } from '../index.js';

// Pictures that were drawn are freed only when this thread comes round to its next message, so orders come one by one.

export type IconOrder = { read: ReadOrder } | { prove: ProofOrder };
/** Where the system tells of this thread, once; then an answer an order. Source: proc(5), /proc/thread-self. */
export type IconReply = { ready: string } | { answer: unknown };

const tools = Promise.all([nodeSvgEngine(), nodePaths()]).then(([svg, paths]) => ({ svg, paths }));
parentPort!.on('message', (order: IconOrder) => {
  void tools.then((t) =>
    parentPort!.postMessage({
      answer: 'read' in order ? carryOutRead(order.read, t) : proveGlyph(order.prove.read, order.prove.icon, order.prove.polygons, t.svg),
    } satisfies IconReply),
  );
});
void tools.then(() => {
  let own = '';
  try {
    own = `/proc/${readlinkSync('/proc/thread-self')}`;
  } catch {
    // A system without it; the clock is asked then.
  }
  parentPort!.postMessage({ ready: own } satisfies IconReply);
});
