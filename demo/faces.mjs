import { Builder, writeSfnt } from '@orderly-glyph/core';

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

/** Draws closed contours of straight lines. */
const lines = (contours) => (pen) => {
  for (const contour of contours) {
    pen.moveTo(...contour[0]);
    for (const point of contour.slice(1)) pen.lineTo(...point);
    pen.closePath();
  }
};

/** A whole TTF. Lower case letters are the capitals again, as in many faces for signs. */
export function drawnFace({ family, style = 'Regular', cut, maker, terms, fsType = 0, bold = false }) {
  const builder = new Builder({
    unitsPerEm: EM,
    names: { 0: `Copyright 2024 ${maker}`, 1: family, 2: style, 8: maker, 13: terms },
    ascender: 800,
    descender: -200,
    lineGap: 90,
    xHeight: 700,
    capHeight: 700,
    weightClass: bold ? 700 : 400,
    monospaced: true,
    fsType,
    vendor: 'HBS',
    modified: 1_717_000_000,
    // Strokes overlap where they meet.
    direction: 'as drawn',
  });
  const frame = [
    [50, 0],
    [50, 700],
    [450, 700],
    [450, 0],
  ];
  builder.add({ name: '.notdef', codePoints: [], advance: WIDTH, draw: lines([frame]) });
  builder.add({ name: 'space', codePoints: [0x20, 0xa0], advance: WIDTH, draw: null });
  for (const [letter, rows] of Object.entries(LETTERS)) {
    const code = letter.codePointAt(0);
    const more = /[A-Z]/.test(letter) ? [letter.toLowerCase().codePointAt(0)] : letter === '’' ? [0x27, 0x2018] : [];
    const contours = CUTS[cut](strokes(rows), bold, letter).map((c) => c.map(([x, y]) => [Math.round(x), Math.round(y)]));
    const name = `uni${code.toString(16).toUpperCase().padStart(4, '0')}`;
    builder.add({ name, codePoints: [code, ...more], advance: WIDTH, draw: lines(contours) });
  }
  return writeSfnt(builder.build());
}
