import { shapingRefusal } from '../engines/index.js';
import { inspectFace, type FaceFacts } from '../face/index.js';
import type { Derived } from './derived.js';

/** What a face is, with everything found amiss; a face that blocks nothing is also handed to HarfBuzz. */
export const FACTS: Derived<FaceFacts> = {
  id: 'facts',
  version: 6,
  from({ face }) {
    const facts = inspectFace(face);
    if (facts.findings.some((f) => f.severity === 'blocks')) return facts;
    const refusal = shapingRefusal(face.sfnt.sfnt, face.sfnt.faceIndex);
    if (!refusal) return facts;
    return { ...facts, findings: [{ code: 'shaping-refused', severity: 'blocks', message: refusal }, ...facts.findings] };
  },
};
