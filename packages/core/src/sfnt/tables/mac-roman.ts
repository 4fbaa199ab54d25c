/** Characters 0x80 to 0xFF of Mac OS Roman. Source: Unicode's mapping file ROMAN.TXT (euro sign as of Mac OS 8.5). */
export const MAC_ROMAN_HIGH: readonly string[] = Array.from(
  'ÄÅÇÉÑÖÜáàâäãåçéèêëíìîïñóòôöõúùûü†°¢£§•¶ß®©™´¨≠ÆØ∞±≤≥¥µ∂∑∏π∫ªºΩæø¿¡¬√ƒ≈∆«»…\u00a0ÀÃÕŒœ–—“”‘’÷◊ÿŸ⁄€‹›ﬁﬂ‡·‚„‰ÂÊÁËÈÍÎÏÌÓÔ\uf8ffÒÚÛÙıˆ˜¯˘˙˚¸˝˛ˇ',
);
