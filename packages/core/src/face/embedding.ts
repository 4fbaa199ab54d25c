/** What `fsType` of the OS/2 table permits. Source: OpenType specification, OS/2, fsType. */
export interface Embedding {
  level: 'installable' | 'editable' | 'preview-print' | 'restricted';
  noSubsetting: boolean;
  bitmapOnly: boolean;
  /** More than one of the usage bits is set, which versions 3 and later forbid; the least restrictive is taken. */
  contradictory: boolean;
}

const RESTRICTED = 0x0002;
const PREVIEW_PRINT = 0x0004;
const EDITABLE = 0x0008;
const NO_SUBSETTING = 0x0100;
const BITMAP_ONLY = 0x0200;

/**
 * Decodes `fsType`. Bits 1 to 3 are exclusive from OS/2 version 3 on; before that, the least restrictive set bit
 * counts. In versions 0 and 1 only bits 0 to 3 mean anything. Source: OpenType specification, OS/2, fsType.
 */
export function decodeEmbedding(fsType: number, os2Version: number): Embedding {
  const usage = fsType & (RESTRICTED | PREVIEW_PRINT | EDITABLE);
  const level = usage & EDITABLE ? 'editable' : usage & PREVIEW_PRINT ? 'preview-print' : usage & RESTRICTED ? 'restricted' : 'installable';
  const high = os2Version >= 2;
  return {
    level,
    noSubsetting: high && (fsType & NO_SUBSETTING) !== 0,
    bitmapOnly: high && (fsType & BITMAP_ONLY) !== 0,
    contradictory: os2Version >= 3 && (usage & (usage - 1)) !== 0,
  };
}
