import { judgeCoverage, type Coverage } from '../coverage/index.js';
import type { Derived } from './derived.js';
import { FACTS } from './facts.js';

/** What it writes; null for a face that nothing can be set in. */
export const COVERAGE: Derived<Coverage | null> = {
  id: 'coverage',
  version: 8,
  from: (made) => (made.of(FACTS).findings.some((f) => f.severity === 'blocks') ? null : judgeCoverage(made.face)),
};
