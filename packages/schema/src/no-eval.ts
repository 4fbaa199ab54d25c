import { z } from 'zod';

// The content policy of our pages forbids code made at run time; without this the schemas try whether they may make some. It
// must be set before the first schema is made: `words.ts`, on which all other schemas rest, imports it first. Were it imported
// by the index, a bundler that takes modules past the index would leave it out.
if ('document' in globalThis) z.config({ jitless: true });
