import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import type { Server } from 'node:http';
import type { Express } from 'express';
import { Shelf } from './common/shelf.js';
import { createComputer } from './computer/computer.js';
import { createDesignTool } from './design-tool/tool.js';
import { createPrintShop } from './print-shop/shop.js';
import { createStore } from './store/store.js';
import { createWebsite } from './website/site.js';

const host = process.env.PRACTICE_HOST ?? '127.0.0.1';
const base = Number(process.env.PRACTICE_PORT ?? 4320);
const key = process.env.PRACTICE_KEY ?? 'hollin-bank-practice';
const dataDir = resolve(process.env.PRACTICE_DATA_DIR ?? '.data/practice');

/** The practice places, each at a port of its own, in this order from the first one on. */
const PLACES: readonly [string, (shelf: Shelf, key: string) => Express, Record<string, string>][] = [
  // File types that the site serves from the start; a fresh site serves no fonts.
  ['website', createWebsite, { types: process.env.PRACTICE_WEBSITE_TYPES ?? '' }],
  ['store', createStore, {}],
  ['design-tool', createDesignTool, {}],
  ['print-shop', createPrintShop, {}],
  ['computer', createComputer, {}],
];

const shelves = new Map<string, Shelf>();
const servers = await Promise.all(
  PLACES.map(async ([name, create, settings], i) => {
    const shelf = await Shelf.open(join(dataDir, name), settings);
    shelves.set(name, shelf);
    const site = create(shelf, key);
    const port = base + i;
    return new Promise<Server>((listening) => {
      const server = site.listen(port, host, () => listening(server));
      server.on('error', (error: NodeJS.ErrnoException) => {
        console.error(
          error.code === 'EADDRINUSE'
            ? `Port ${port} is taken by another program. Set PRACTICE_PORT to another one; the practice places need ${PLACES.length} in a row.`
            : error.message,
        );
        process.exit(1);
      });
    });
  }),
);
/** Whoever starts the sample business over leaves this file; the copy of each place as it was at first lies beside it. */
const marker = join(dataDir, 'start-over');
setInterval(() => {
  if (!existsSync(marker)) return;
  void Promise.all(
    [...shelves].map(([name, shelf]) =>
      shelf.startOver(join(dataDir, 'at-first', name)).catch((error: unknown) => console.error(`${name} did not start over:`, error)),
    ),
  ).then(() => rm(marker, { force: true }));
}, 200).unref();
console.log(`ready http://${host}:${base} to ${base + PLACES.length - 1}`);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    for (const server of servers) {
      server.close();
      server.closeAllConnections();
    }
    process.exit(0);
  });
