import type { FaceFacts } from '../face/index.js';
import type { FontFormat } from '../sfnt/index.js';
import { twinKey, type CheckContext, type FileAtHand } from './finding.js';
import type { Profile } from './profile.js';

/** A face that somebody wants to put somewhere, with its files, the leading one first. */
export interface FaceAtHand {
  family: string;
  style: string;
  format: FontFormat;
  facts: Pick<FaceFacts, 'outlines' | 'axes' | 'color' | 'embedding' | 'findings' | 'instances'>;
  files: readonly FileAtHand[];
  sha256: string | null;
}

/** Which of how many each face of a batch is, and which of them bears the names of an earlier one. */
export function batchOf(faces: readonly Pick<FaceAtHand, 'family' | 'style'>[]): CheckContext['batch'][] {
  const seen = new Map<string, string>();
  const families = faces.map((f) => f.family);
  return faces.map(({ family, style }, position) => {
    const key = twinKey(family, style);
    const twin = seen.get(key) ?? null;
    if (twin === null) seen.set(key, `${family} ${style}`);
    return { position, total: faces.length, twin, families };
  });
}

/** What checks look at, of a face alone; what is known beside it is given. */
export function contextFor(profile: Profile, face: FaceAtHand, known: Partial<CheckContext> = {}): CheckContext {
  const { facts } = face;
  return {
    profile,
    faceName: `${face.family} ${face.style}`,
    family: face.family,
    style: face.style,
    placeName: `The ${profile.name.toLowerCase()}`,
    fileName: null,
    state: { format: face.format, outlines: facts.outlines, variable: facts.axes.length > 0, color: facts.color.length > 0 },
    embedding: facts.embedding,
    faults: facts.findings,
    verdicts: [],
    notes: [],
    mayChange: null,
    files: face.files,
    recipe: [],
    made: null,
    sha256: face.sha256,
    keep: null,
    estimate: null,
    instances: facts.instances.flatMap(({ name, coordinates }) =>
      name ? [[name, facts.axes.map((axis, i) => `${axis.tag}=${coordinates[i] ?? axis.default}`).join(',')] as const] : [],
    ),
    there: null,
    batch: { position: 0, total: 1, twin: null, families: [face.family] },
    texts: [],
    joined: null,
    role: null,
    forDisplay: false,
    alike: [],
    ...known,
  };
}
