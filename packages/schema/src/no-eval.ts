import { z } from 'zod';

// The content policy of our pages forbids code made at run time; without this the schemas try whether they may make some. It
// must be set before the first schema is made, so it is a module of its own that is imported first.
if ('document' in globalThis) z.config({ jitless: true });
