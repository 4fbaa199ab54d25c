export { blockOf } from './blocks.js';
export { JOINING_SCRIPTS, MELTING, RARE } from './data/behaviour.js';
export {
  auxiliaryLetters,
  joinsOnBothSides,
  language,
  languages,
  reach,
  scriptName,
  scripts,
  type Language,
  type Reach,
} from './languages.js';
export { sampleOf } from './sample.js';
