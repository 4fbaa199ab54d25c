import { FLAVOR_TRUETYPE, writeSfnt } from '@orderly-glyph/core';

/**
 * Faces of the sample business that carry paid licenses. Their letters are skeletons on a grid of five by seven, drawn here
 * in four ways: strokes with round ends, a slab serif, a stencil and a joined script; so that no real maker's face is shown
 * under invented terms.
 */
const LETTERS = {
  A: '01110 10001 10001 11111 10001 10001 10001',
  B: '11110 10001 10001 11110 10001 10001 11110',
  C: '01110 10001 10000 10000 10000 10001 01110',
  D: '11110 10001 10001 10001 10001 10001 11110',
  E: '11111 10000 10000 11110 10000 10000 11111',
  F: '11111 10000 10000 11110 10000 10000 10000',
  G: '01110 10001 10000 10111 10001 10001 01110',
  H: '10001 10001 10001 11111 10001 10001 10001',
  I: '01110 00100 00100 00100 00100 00100 01110',
  J: '00111 00010 00010 00010 00010 10010 01100',
  K: '10001 10010 10100 11000 10100 10010 10001',
  L: '10000 10000 10000 10000 10000 10000 11111',
  M: '10001 11011 10101 10101 10001 10001 10001',
  N: '10001 11001 10101 10011 10001 10001 10001',
  O: '01110 10001 10001 10001 10001 10001 01110',
  P: '11110 10001 10001 11110 10000 10000 10000',
  Q: '01110 10001 10001 10001 10101 10010 01101',
  R: '11110 10001 10001 11110 10100 10010 10001',
  S: '01111 10000 10000 01110 00001 00001 11110',
  T: '11111 00100 00100 00100 00100 00100 00100',
  U: '10001 10001 10001 10001 10001 10001 01110',
  V: '10001 10001 10001 10001 10001 01010 00100',
  W: '10001 10001 10001 10101 10101 11011 10001',
  X: '10001 10001 01010 00100 01010 10001 10001',
  Y: '10001 10001 01010 00100 00100 00100 00100',
  Z: '11111 00001 00010 00100 01000 10000 11111',
  0: '01110 10001 10011 10101 11001 10001 01110',
  1: '00100 01100 00100 00100 00100 00100 01110',
  2: '01110 10001 00001 00110 01000 10000 11111',
  3: '11110 00001 00001 01110 00001 00001 11110',
  4: '00010 00110 01010 10010 11111 00010 00010',
  5: '11111 10000 11110 00001 00001 10001 01110',
  6: '00110 01000 10000 11110 10001 10001 01110',
  7: '11111 00001 00010 00100 01000 01000 01000',
  8: '01110 10001 10001 01110 10001 10001 01110',
  9: '01110 10001 10001 01111 00001 00010 01100',
  '.': '00000 00000 00000 00000 00000 00100 00100',
  ',': '00000 00000 00000 00000 00100 00100 01000',
  '-': '00000 00000 00000 01110 00000 00000 00000',
  '&': '01100 10010 10100 01000 10101 10010 01101',
  '’': '00100 00100 01000 00000 00000 00000 00000',
  '£': '00110 01001 01000 11100 01000 01000 11111',
  '€': '00111 01000 11110 01000 11110 01000 00111',
};
const EM = 1000;
const CELL = 100;
const WIDTH = 600;

/**
 * The strokes of a letter: runs of cells that are on, as pairs of points on the grid. Diagonals only count where the cells
 * are not joined by a corner anyway.
 */
function strokes(rows) {
  const grid = rows.split(' ').map((row) => [...row].map((c) => c === '1'));
  const on = (x, y) => grid[y]?.[x] === true;
  const out = [];
  const lonely = [];
  for (let y = 0; y < 7; y++)
    for (let x = 0; x < 5; x++) {
      if (!on(x, y)) continue;
      let joined = false;
      for (const [dx, dy] of [
        [1, 0],
        [0, 1],
        [1, 1],
        [-1, 1],
      ]) {
        const links = (ax, ay) => on(ax, ay) && on(ax + dx, ay + dy) && (dx * dy === 0 || (!on(ax + dx, ay) && !on(ax, ay + dy)));
        joined ||= links(x, y) || links(x - dx, y - dy);
        if (!links(x, y) || links(x - dx, y - dy)) continue;
        let n = 1;
        while (links(x + dx * n, y + dy * n)) n++;
        out.push([x, y, x + dx * n, y + dy * n]);
      }
      if (!joined) lonely.push([x, y, x, y]);
    }
  return [...out, ...lonely].map(([ax, ay, bx, by]) => [
    [100 + ax * CELL, 50 + (6 - ay) * CELL],
    [100 + bx * CELL, 50 + (6 - by) * CELL],
  ]);
}

/** A stroke as a closed contour, clockwise, with flat ends or with round ones of so many corners. */
function band([[ax, ay], [bx, by]], width, round) {
  const length = Math.hypot(bx - ax, by - ay);
  const [ux, uy] = length === 0 ? [1, 0] : [(bx - ax) / length, (by - ay) / length];
  const half = width / 2;
  const point = (cx, cy, angle) => {
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    return [Math.round(cx + half * (ux * c - uy * s)), Math.round(cy + half * (uy * c + ux * s))];
  };
  const corners = round ? 8 : 1;
  const arc = (cx, cy, from) => Array.from({ length: corners + 1 }, (_, i) => point(cx, cy, from - (Math.PI * i) / corners));
  return [...arc(bx, by, Math.PI / 2), ...arc(ax, ay, -Math.PI / 2)];
}

const block = (cx, cy, width, height) => [
  [cx - width / 2, cy - height / 2],
  [cx - width / 2, cy + height / 2],
  [cx + width / 2, cy + height / 2],
  [cx + width / 2, cy - height / 2],
];

/** How a letter's strokes become contours. */
const CUTS = {
  round: (list, bold) => list.map((s) => band(s, bold ? 118 : 74, true)),
  slab: (list, bold) => {
    const weight = bold ? 122 : 84;
    const ends = list.flat().map(([x, y]) => `${x} ${y}`);
    // Only where one stroke ends alone, at the top or at the foot, stands a serif.
    const serifs = list
      .filter(([a, b]) => a[1] !== b[1])
      .flat()
      .filter(([x, y]) => (y === 50 || y === 650) && ends.filter((e) => e === `${x} ${y}`).length === 1)
      .map(([x, y]) => block(x, y === 50 ? 26 : 674, weight * 2.3, 52));
    return [...list.map((s) => band(s, weight, false)), ...serifs];
  },
  stencil: (list) =>
    list.flatMap(([[ax, ay], [bx, by]]) => {
      const length = Math.hypot(bx - ax, by - ay);
      if (length < 250)
        return [
          band(
            [
              [ax, ay],
              [bx, by],
            ],
            108,
            false,
          ),
        ];
      const at = (t) => [ax + (bx - ax) * t, ay + (by - ay) * t];
      const gap = 24 / length;
      return [band([[ax, ay], at(0.5 - gap)], 108, false), band([at(0.5 + gap), [bx, by]], 108, false)];
    }),
  script: (list, bold, letter) => {
    const lean = ([x, y]) => [Math.round(x + y * 0.28 - 60), y];
    // A stroke along the foot that reaches into the next letter joins them.
    const join = /[A-Z]/.test(letter)
      ? [
          band(
            [
              [60, 44],
              [620, 44],
            ].map(lean),
            40,
            true,
          ),
        ]
      : [];
    return [...list.map((s) => band(s.map(lean), s[0][0] === s[1][0] ? 66 : 44, true)), ...join];
  },
};

const u16 = (...values) => values.flatMap((v) => [(v >> 8) & 255, v & 255]);
const u32 = (...values) => values.flatMap((v) => [(v >>> 24) & 255, (v >>> 16) & 255, (v >>> 8) & 255, v & 255]);

/** A simple glyph of straight contours. Source: OpenType specification, glyf. */
function glyph(contours) {
  if (contours.length === 0) return [];
  const points = contours.flat();
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  let end = -1;
  const ends = contours.map((c) => (end += c.length));
  const deltas = (list) => u16(...list.map((v, i) => (i === 0 ? v : v - list[i - 1])));
  const bytes = [
    ...u16(contours.length, Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys), ...ends, 0),
    ...points.map(() => 1),
    ...deltas(xs),
    ...deltas(ys),
  ];
  while (bytes.length % 4 !== 0) bytes.push(0);
  return bytes;
}

function nameTable(entries) {
  const strings = entries.map(([id, text]) => [id, [...text].flatMap((c) => u16(c.codePointAt(0)))]);
  let offset = 0;
  const records = strings.flatMap(([id, bytes]) => {
    const record = u16(3, 1, 0x409, id, bytes.length, offset);
    offset += bytes.length;
    return record;
  });
  return [...u16(0, strings.length, 6 + strings.length * 12), ...records, ...strings.flatMap(([, bytes]) => bytes)];
}

/** cmap format 4 with a segment for each run. Source: OpenType specification, cmap. */
function cmapTable(codes) {
  const segments = [];
  for (const [code, id] of [...codes].sort((a, b) => a[0] - b[0])) {
    const last = segments.at(-1);
    if (last && last.end + 1 === code && last.delta === ((id - code) & 0xffff)) last.end = code;
    else segments.push({ start: code, end: code, delta: (id - code) & 0xffff });
  }
  segments.push({ start: 0xffff, end: 0xffff, delta: 1 });
  const n = segments.length;
  const power = 2 ** Math.floor(Math.log2(n));
  const body = [
    ...u16(n * 2, power * 2, Math.log2(power), n * 2 - power * 2),
    ...u16(...segments.map((s) => s.end), 0),
    ...u16(...segments.map((s) => s.start), ...segments.map((s) => s.delta), ...segments.map(() => 0)),
  ];
  return [...u16(0, 1, 3, 1), ...u32(12), ...u16(4, body.length + 6, 0), ...body];
}

/** A whole TTF. Lower case letters are the capitals again, as in many faces for signs. */
export function drawnFace({ family, style = 'Regular', cut, maker, terms, fsType = 0, bold = false }) {
  const whole = (contour) => contour.map(([x, y]) => [Math.round(x), Math.round(y)]);
  const box = [
    [
      [50, 0],
      [50, 700],
      [450, 700],
      [450, 0],
    ],
  ];
  const glyphs = [glyph(box), []];
  const codes = [
    [0x20, 1],
    [0xa0, 1],
  ];
  for (const [letter, rows] of Object.entries(LETTERS)) {
    const id = glyphs.push(glyph(CUTS[cut](strokes(rows), bold, letter).map(whole))) - 1;
    codes.push([letter.codePointAt(0), id]);
    if (/[A-Z]/.test(letter)) codes.push([letter.toLowerCase().codePointAt(0), id]);
    if (letter === '’') codes.push([0x27, id], [0x2018, id]);
  }
  const offsets = [];
  let length = 0;
  for (const g of glyphs) {
    offsets.push(length);
    length += g.length;
  }
  offsets.push(length);
  const drawn = glyphs.filter((g) => g.length > 0);
  const read = (g, at) => (((g[at] << 8) | g[at + 1]) << 16) >> 16;
  const most = Math.max(...drawn.map((g) => read(g, 0)));
  const box4 = [2, 4, 6, 8].map((at) => Math[at < 6 ? 'min' : 'max'](...drawn.map((g) => read(g, at))));
  // Points of a glyph: the last of its contours' ends, plus one.
  const mostPoints = Math.max(...drawn.map((g) => read(g, 8 + 2 * read(g, 0)) + 1));
  const full = style === 'Regular' ? family : `${family} ${style}`;
  const postScript = `${family.replace(/[^A-Za-z0-9]/g, '')}-${style}`;
  const tables = {
    'OS/2': [
      ...u16(4, WIDTH, bold ? 700 : 400, 5, fsType, 600, 600, 0, 75, 600, 600, 0, 350, 50, 300, 0),
      ...new Array(10).fill(0),
      ...u32(1, 0, 0, 0),
      ...[...'HBS '].map((c) => c.charCodeAt(0)),
      ...u16(bold ? 0x20 : 0x40, 0x20, 0x20ac, 800, -200, 90, 800, 200),
      ...u32(1, 0),
      ...u16(700, 700, 0, 0x20, 1),
    ],
    cmap: cmapTable(codes),
    glyf: glyphs.flat(),
    head: [
      ...u32(0x00010000, 0x00010000, 0, 0x5f0f3cf5),
      ...u16(3, EM),
      ...u32(0, 3_800_000_000, 0, 3_800_000_000),
      ...u16(...box4, bold ? 1 : 0, 8, 2, 1, 0),
    ],
    hhea: [...u32(0x00010000), ...u16(800, -200, 90, WIDTH, box4[0], WIDTH - box4[2], box4[2], 1, 0, 0, 0, 0, 0, 0, 0, glyphs.length)],
    hmtx: glyphs.flatMap((g) => u16(WIDTH, g.length > 0 ? (((g[2] << 8) | g[3]) << 16) >> 16 : 0)),
    loca: u32(...offsets),
    maxp: [...u32(0x00010000), ...u16(glyphs.length, mostPoints, most, 0, 0, 2, 0, 0, 0, 0, 0, 0, 0, 0)],
    name: nameTable([
      [0, `Copyright 2024 ${maker}`],
      [1, family],
      [2, style],
      [3, `${full} 1.0`],
      [4, full],
      [5, 'Version 1.0'],
      [6, postScript],
      [8, maker],
      [13, terms],
    ]),
    post: [...u32(0x00030000, 0), ...u16(-75, 50), ...u32(1, 0, 0, 0, 0)],
  };
  return writeSfnt({
    flavor: FLAVOR_TRUETYPE,
    tables: new Map(Object.entries(tables).map(([tag, bytes]) => [tag, Uint8Array.from(bytes)])),
  });
}
