export { FontError, type FontErrorCode } from './errors.js';
export type { Codec } from './codec.js';
export { Reader } from './reader.js';
export {
  detectFormat,
  readFontFile,
  FLAVOR_CFF,
  FLAVOR_TRUETYPE,
  type ContainerFault,
  type FontFile,
  type FontFormat,
  type SfntFont,
} from './container.js';
export { tableChecksum, headChecksum } from './checksum.js';
export { writeSfnt } from './write.js';
export { writeWoff } from './woff.js';
export { writeWoff2 } from './woff2/write.js';
export { readHead, type Head } from './tables/head.js';
export { readHhea, type Hhea } from './tables/hhea.js';
export { Hmtx } from './tables/hmtx.js';
export { readMaxp, type Maxp } from './tables/maxp.js';
export { readOs2, type Os2 } from './tables/os2.js';
export { readPost, type Post } from './tables/post.js';
export { bestName, readName, NAME_ID, type NameRecord } from './tables/name.js';
export { checkCmapSubtables, glyphOf, readCmap, type Cmap } from './tables/cmap.js';
export { readFvar, type NamedInstance, type VariationAxis } from './tables/fvar.js';
export { readSubstitutions, type Substitution } from './tables/gsub.js';
export { MarkAnchors } from './tables/anchors.js';
export { readLayoutTags } from './tables/layout.js';
export { colorTables } from './tables/color.js';
export { Loca } from './tables/glyf.js';
