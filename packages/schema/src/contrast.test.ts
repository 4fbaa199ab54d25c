import { contrast } from './index.js';

// WCAG 2.2: "contrast ratios can range from 1 to 21"; the greys that W3C's material names as just enough and just too light for
// text on white, #767676 (4.54) and #777777 (4.48), are from memory, and so are pure red (4.00), lime (1.37) and blue (8.59).
test.each([
  ['#000000', '#ffffff', 21],
  ['#ffffff', '#ffffff', 1],
  ['#767676', '#ffffff', 4.54],
  ['#777777', '#ffffff', 4.48],
  ['#ff0000', '#ffffff', 4],
  ['#00ff00', '#ffffff', 1.37],
  ['#0000ff', '#ffffff', 8.59],
])('%s on %s has %d to 1, whichever is the ground', (ink, paper, ratio) => {
  expect(contrast(ink, paper)).toBeCloseTo(ratio, 2);
  expect(contrast(paper, ink)).toBeCloseTo(ratio, 2);
});
