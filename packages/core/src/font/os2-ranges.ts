/** Bits of ulUnicodeRange as bit:first-last, in hexadecimal code points. Source: OpenType specification, OS/2, ulUnicodeRange. */
const RANGES =
  '0:0-7f 1:80-ff 2:100-17f 3:180-24f 4:250-2af 5:2b0-2ff 6:300-36f 7:370-3ff 9:400-4ff 9:500-52f 10:530-58f ' +
  '11:590-5ff 13:600-6ff 71:700-74f 13:750-77f 72:780-7bf 14:7c0-7ff 15:900-97f 16:980-9ff 17:a00-a7f 18:a80-aff ' +
  '19:b00-b7f 20:b80-bff 21:c00-c7f 22:c80-cff 23:d00-d7f 73:d80-dff 24:e00-e7f 25:e80-eff 70:f00-fff ' +
  '74:1000-109f 26:10a0-10ff 28:1100-11ff 75:1200-137f 75:1380-139f 76:13a0-13ff 77:1400-167f 78:1680-169f ' +
  '79:16a0-16ff 84:1700-171f 84:1720-173f 84:1740-175f 84:1760-177f 80:1780-17ff 81:1800-18af 93:1900-194f ' +
  '94:1950-197f 95:1980-19df 80:19e0-19ff 96:1a00-1a1f 27:1b00-1b7f 112:1b80-1bbf 113:1c00-1c4f 114:1c50-1c7f ' +
  '4:1d00-1d7f 4:1d80-1dbf 6:1dc0-1dff 29:1e00-1eff 30:1f00-1fff 31:2000-206f 32:2070-209f 33:20a0-20cf ' +
  '34:20d0-20ff 35:2100-214f 36:2150-218f 37:2190-21ff 38:2200-22ff 39:2300-23ff 40:2400-243f 41:2440-245f ' +
  '42:2460-24ff 43:2500-257f 44:2580-259f 45:25a0-25ff 46:2600-26ff 47:2700-27bf 38:27c0-27ef 37:27f0-27ff ' +
  '82:2800-28ff 37:2900-297f 38:2980-29ff 38:2a00-2aff 37:2b00-2bff 97:2c00-2c5f 29:2c60-2c7f 8:2c80-2cff ' +
  '26:2d00-2d2f 98:2d30-2d7f 75:2d80-2ddf 9:2de0-2dff 31:2e00-2e7f 59:2e80-2eff 59:2f00-2fdf 59:2ff0-2fff ' +
  '48:3000-303f 49:3040-309f 50:30a0-30ff 51:3100-312f 52:3130-318f 59:3190-319f 51:31a0-31bf 61:31c0-31ef ' +
  '50:31f0-31ff 54:3200-32ff 55:3300-33ff 59:3400-4dbf 99:4dc0-4dff 59:4e00-9fff 83:a000-a48f 83:a490-a4cf ' +
  '12:a500-a63f 9:a640-a69f 5:a700-a71f 29:a720-a7ff 100:a800-a82f 53:a840-a87f 115:a880-a8df 116:a900-a92f ' +
  '117:a930-a95f 118:aa00-aa5f 56:ac00-d7af 57:d800-dfff 60:e000-f8ff 61:f900-faff 62:fb00-fb4f 63:fb50-fdff ' +
  '91:fe00-fe0f 65:fe10-fe1f 64:fe20-fe2f 65:fe30-fe4f 66:fe50-fe6f 67:fe70-feff 68:ff00-ffef 69:fff0-ffff ' +
  '101:10000-1007f 101:10080-100ff 101:10100-1013f 102:10140-1018f 119:10190-101cf 120:101d0-101ff ' +
  '121:10280-1029f 121:102a0-102df 85:10300-1032f 86:10330-1034f 103:10380-1039f 104:103a0-103df 87:10400-1044f ' +
  '105:10450-1047f 106:10480-104af 107:10800-1083f 58:10900-1091f 121:10920-1093f 108:10a00-10a5f 110:12000-123ff ' +
  '110:12400-1247f 88:1d000-1d0ff 88:1d100-1d1ff 88:1d200-1d24f 109:1d300-1d35f 111:1d360-1d37f 89:1d400-1d7ff ' +
  '122:1f000-1f02f 122:1f030-1f09f 59:20000-2a6df 61:2f800-2fa1f 92:e0000-e007f 91:e0100-e01ef 90:f0000-ffffd ' +
  '90:100000-10fffd';

const ranges = RANGES.split(' ').map((r) => {
  const [bit, span] = r.split(':') as [string, string];
  const [first, last] = span.split('-').map((h) => parseInt(h, 16)) as [number, number];
  return { bit: Number(bit), first, last };
});

/** The four words of ulUnicodeRange for a set of code points: every block that has a character, and bit 57 beyond the basic plane. */
export function unicodeRanges(codePoints: readonly number[]): [number, number, number, number] {
  const words: [number, number, number, number] = [0, 0, 0, 0];
  const set = (bit: number): void => {
    words[bit >> 5]! |= 1 << (bit & 31);
  };
  for (const c of codePoints) {
    for (const r of ranges) if (c >= r.first && c <= r.last) set(r.bit);
    if (c > 0xffff) set(57);
  }
  return words.map((w) => w >>> 0) as typeof words;
}

/** A character that tells a code page, by bit of ulCodePageRange1; those with `ascii` need the printable ASCII characters, too. */
const PAGES: readonly [bit: number, character: string, ascii: boolean][] = [
  [0, 'Þ', true],
  [1, 'Ľ', true],
  [2, 'Б', false],
  [3, 'Ά', false],
  [4, 'İ', true],
  [5, 'א', false],
  [6, 'ر', false],
  [7, 'ŗ', true],
  [8, '₫', true],
  [16, 'ๅ', false],
  [17, 'エ', false],
  [18, 'ㄅ', false],
  [19, 'ㄱ', false],
  [20, '央', false],
  [21, '곴', false],
  [30, '♥', true],
];

/** ulCodePageRange1 by single telling characters; bit 29 is the Macintosh character set. Source: OpenType specification, OS/2; the
 * choice of characters is common practice. Latin 1 is set when nothing else is. */
export function codePages(codePoints: readonly number[]): number {
  const has = new Set(codePoints);
  const ascii = Array.from({ length: 0x5e }, (_, i) => 0x20 + i).every((c) => has.has(c));
  let bits = 0;
  for (const [bit, character, needsAscii] of PAGES) if (has.has(character.codePointAt(0)!) && (ascii || !needsAscii)) bits |= 1 << bit;
  if (ascii && has.has(0x2030) && has.has(0x2211)) bits |= 1 << 29;
  return (bits || 1) >>> 0;
}
