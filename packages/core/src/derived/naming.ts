import { nameFace, type Naming } from '../face/index.js';
import type { Derived } from './derived.js';
import { FACTS } from './facts.js';

/** Family, style, weight, width and slope by its names, with the repairs. */
export const NAMING: Derived<Naming> = { id: 'naming', version: 6, from: (made) => nameFace(made.of(FACTS), made.given.fileName) };
