import { ensureBuild, ensureModules, Stop } from './lib/system.mjs';

try {
  ensureModules();
  ensureBuild({ force: process.argv.includes('--force') });
} catch (error) {
  console.error(error instanceof Stop ? error.message : error);
  process.exit(1);
}
