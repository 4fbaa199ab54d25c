export { expectFontError, FontError, type FontErrorCode } from './errors.js';
export type { Codec } from './codec.js';
export { Reader } from './reader.js';
export {
  detectFormat,
  oldFont,
  readFontFile,
  FLAVOR_CFF,
  FLAVOR_TRUETYPE,
  type ContainerFault,
  type FontFile,
  type FontFormat,
  type SfntFont,
} from './container.js';
export { tableChecksum, headChecksum } from './checksum.js';
export { writeCollection, writeSfnt } from './write.js';
export { writeWoff } from './woff.js';
export { writeWoff2 } from './woff2/write.js';
export { searchFields } from './write.js';
export { Writer } from './writer.js';
export { declare, OffsetOverflow, type Data, type Field, type OpenTables, type Table, type Tables } from './declare/index.js';
export { TABLES } from './tables/index.js';
export { AVAR, HVAR, MVAR, VVAR, type Avar, type Hvar, type ItemVariationStore, type Mvar } from './tables/variations.js';
export { CFF, CFF2, type Cff, type Cff2, type FontDict, type PrivateDict } from './tables/cff.js';
export { DICT, operand, putInteger, readDict, readIndex, type CffDict, type CffIndex } from './tables/cff-parts.js';
export { CMAP, checkCmapSubtables, glyphOf, readCmap, type Cmap, type CmapSubtable, type CmapTable } from './tables/cmap.js';
export { CBDT, CBLC, COLR, colorTables, CPAL, SBIX, SVG, type Colr, type Cpal, type Paint, type Svg } from './tables/color.js';
export { FVAR, HIDDEN_AXIS, type Fvar, type NamedInstance, type VariationAxis } from './tables/fvar.js';
export { GASP, type Gasp } from './tables/gasp.js';
export { GDEF, type Gdef } from './tables/gdef.js';
export {
  ARGS_ARE_XY_VALUES,
  GLYF,
  Loca,
  LOCA,
  locaFormatFor,
  readGlyph,
  writeGlyphs,
  type Component,
  type CompositeGlyph,
  type Glyph,
  type SimpleGlyph,
} from './tables/glyf.js';
export { GPOS, type Gpos } from './tables/gpos.js';
export { GSUB, type Gsub } from './tables/gsub.js';
export { GVAR, variedPoints, type Gvar, type TupleVariation } from './tables/gvar.js';
export { HEAD, MAC_EPOCH, type Head } from './tables/head.js';
export { HHEA, type Hhea } from './tables/hhea.js';
export { Hmtx, HMTX, longMetricsOf, VMTX, type LongMetrics } from './tables/hmtx.js';
export { KERN, type Kern } from './tables/kern.js';
export { MAC_GLYPH_NAMES } from './tables/glyph-names.js';
export { MAXP, type Maxp } from './tables/maxp.js';
export { DSIG, META, type Meta } from './tables/meta.js';
export { bestName, NAME, NAME_ID, readName, windowsNames, encodeUtf16, type NameRecord, type NameTable } from './tables/name.js';
export { OS2, type Os2 } from './tables/os2.js';
export { POST, POST_HEADER, type Post, type PostHeader } from './tables/post.js';
export { STAT, type Stat } from './tables/stat.js';
export { VHEA, type Vhea } from './tables/vhea.js';
export type { Anchor, Lookup, Subtable, ValueRecord } from './tables/layout-common.js';
export { readSubstitutions, type Substitution } from './tables/substitutions.js';
export { MarkAnchors } from './tables/anchors.js';
export { readLayoutTags } from './tables/layout-tags.js';
