export { blockOf } from './blocks.js';
export { JOINING_SCRIPTS, MELTING, RARE, STACKING } from './data/behaviour.js';
export { COMPLETE_WRITING, type CompleteWriting } from './data/complete.js';
export {
  auxiliaryLetters,
  completeWriting,
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
