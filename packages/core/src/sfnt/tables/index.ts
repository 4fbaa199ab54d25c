import type { Table } from '../declare/index.js';
import { CFF, CFF2 } from './cff.js';
import { CMAP } from './cmap.js';
import { CBDT, CBLC, COLR, CPAL, SBIX, SVG } from './color.js';
import { FVAR } from './fvar.js';
import { GASP } from './gasp.js';
import { GDEF } from './gdef.js';
import { GLYF, LOCA } from './glyf.js';
import { GPOS } from './gpos.js';
import { GSUB } from './gsub.js';
import { GVAR } from './gvar.js';
import { HEAD } from './head.js';
import { HHEA } from './hhea.js';
import { HMTX, VMTX } from './hmtx.js';
import { KERN } from './kern.js';
import { MAXP } from './maxp.js';
import { DSIG, META } from './meta.js';
import { NAME } from './name.js';
import { OS2 } from './os2.js';
import { POST } from './post.js';
import { STAT } from './stat.js';
import { AVAR, HVAR, MVAR, VVAR } from './variations.js';
import { VHEA } from './vhea.js';

/** Every table that can be read and written whole: the registry of tables. */
export const TABLES: readonly Table<never>[] = [
  AVAR,
  CBDT,
  CBLC,
  CFF,
  CFF2,
  CMAP,
  COLR,
  CPAL,
  DSIG,
  FVAR,
  GASP,
  GDEF,
  GLYF,
  GPOS,
  GSUB,
  GVAR,
  HEAD,
  HHEA,
  HMTX,
  HVAR,
  KERN,
  LOCA,
  MAXP,
  META,
  MVAR,
  NAME,
  OS2,
  POST,
  SBIX,
  STAT,
  SVG,
  VHEA,
  VMTX,
  VVAR,
] as Table<never>[];
