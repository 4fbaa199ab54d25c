export { judgeCoverage, needsFor, type Coverage, type LanguageNeeds, type LanguageVerdict, type ScriptVerdict } from './judge.js';
