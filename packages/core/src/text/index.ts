export {
  blockComment,
  cssPath,
  cssString,
  csvCell,
  htmlComment,
  htmlText,
  jsonText,
  plainLine,
  shellWord,
  sqlString,
  tsString,
  xmlText,
} from './written.js';
export { formatRuns, toRuns } from './ranges.js';
export {
  inRuns,
  missingFrom,
  piecesOf,
  smallestSet,
  suspicions,
  writesOf,
  type MissingCharacter,
  type Suspicion,
  type Writes,
} from './text-check.js';
