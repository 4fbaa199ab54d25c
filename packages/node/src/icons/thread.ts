import { parentPort } from 'node:worker_threads';
import { carryOutRead, proveGlyph, type ProofOrder, type ReadOrder } from '@orderly-glyph/core';
import { nodePaths, nodeSvgEngine } from '../index.js';

// Pictures that were drawn are freed only when this thread comes round to its next message, so orders come a few at a time.

export type IconOrder = { id: number; read: readonly ReadOrder[] } | { id: number; prove: readonly ProofOrder[] };

const tools = Promise.all([nodeSvgEngine(), nodePaths()]).then(([svg, paths]) => ({ svg, paths }));
parentPort!.on('message', (order: IconOrder) => {
  void tools.then((t) =>
    parentPort!.postMessage({
      id: order.id,
      answers:
        'read' in order ? order.read.map((o) => carryOutRead(o, t)) : order.prove.map((o) => proveGlyph(o.read, o.icon, o.polygons, t.svg)),
    }),
  );
});
