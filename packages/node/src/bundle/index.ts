export { classify, isSvg, sortBytes, textKind, type CompanionKind, type Sorted } from './classify.js';
export { MAX_BUNDLE, MAX_FILE } from './limits.js';
export { sortBundles, type Source, type SortedBundles } from './sort.js';
export { COMPANION_KIND, judgeText, type JudgedText } from './texts.js';
export { MAX_ENTRIES, openZip, ZipRefused, type OpenZip, type ZipEntry } from './zip.js';
