export { blockOf } from './blocks.js';
export {
  judgeCoverage,
  needsFor,
  type Coverage,
  type LanguageNeeds,
  type JudgedFace,
  type LanguageVerdict,
  type ScriptVerdict,
} from './judge.js';
export { auxiliaryLetters, language, languages, reach, scriptName, scripts, type Language, type Reach } from './languages.js';
export { fontNeeds, judgeFont } from './font.js';
export { sampleOf } from './sample.js';
