/**
 * Small drawings, each with one thing that SVG can do, on a board of 24 by 24. `tuned` ones were looked at while the reading was
 * written, `unseen` ones only once it was done. Made for these tests.
 */
const board = (body: string, attributes = 'viewBox="0 0 24 24"'): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${attributes}>${body}</svg>`;
const PIXEL = 'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';

export interface SvgFeature {
  name: string;
  svg: string;
  /** The finding by whose code it is told, where the glyph cannot show it. */
  told?: string;
}

export const TUNED: readonly SvgFeature[] = [
  { name: 'even-odd', svg: board('<path fill-rule="evenodd" d="M2 2h20v20H2zM7 7h10v10H7z"/>') },
  { name: 'nonzero with a hole that runs back', svg: board('<path d="M2 2h20v20H2zM7 7v10h10V7z"/>') },
  {
    name: 'clip path',
    svg: board('<clipPath id="c"><circle cx="12" cy="12" r="8"/></clipPath><path clip-path="url(#c)" d="M0 0h24v12H0z"/>'),
  },
  {
    name: 'clip path by bounding box',
    svg: board(
      '<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width=".5" height="1"/></clipPath><circle cx="12" cy="12" r="9" clip-path="url(#c)"/>',
    ),
  },
  {
    name: 'clip path on a turned group',
    svg: board(
      '<clipPath id="c"><rect x="4" y="4" width="10" height="10"/></clipPath><g transform="rotate(15 12 12)" clip-path="url(#c)"><circle cx="12" cy="12" r="8"/></g>',
    ),
  },
  {
    name: 'mask of black and white',
    svg: board(
      '<mask id="m"><rect width="24" height="24" fill="#fff"/><circle cx="12" cy="12" r="4"/></mask><rect x="3" y="3" width="18" height="18" mask="url(#m)"/>',
    ),
  },
  {
    name: 'mask with a half tone',
    svg: board('<mask id="m"><rect width="24" height="24" fill="#888"/></mask><rect x="3" y="3" width="18" height="18" mask="url(#m)"/>'),
    told: 'mask',
  },
  { name: 'dashes', svg: board('<path d="M3 12h18" stroke="#000" stroke-width="4" stroke-dasharray="3 2"/>') },
  {
    name: 'dashes of an odd number, shifted, on a curve',
    svg: board('<circle cx="12" cy="12" r="8" fill="none" stroke="#000" stroke-width="3" stroke-dasharray="5 2 3" stroke-dashoffset="4"/>'),
  },
  {
    name: 'dashes of no length with round ends',
    svg: board('<path d="M4 12h16" stroke="#000" stroke-width="3" stroke-linecap="round" stroke-dasharray="0 4"/>'),
  },
  {
    name: 'a line of no length with square ends',
    svg: board('<path d="M12 12h0" stroke="#000" stroke-width="8" stroke-linecap="square"/>'),
  },
  {
    name: 'joins and the miter limit',
    svg: board('<path d="M4 20L8 4l4 16 4-8 4 8" fill="none" stroke="#000" stroke-width="2" stroke-miterlimit="2"/>'),
  },
  { name: 'bevel joins', svg: board('<path d="M4 18L12 5l8 13z" fill="none" stroke="#000" stroke-width="4" stroke-linejoin="bevel"/>') },
  {
    name: 'marker',
    svg: board(
      '<marker id="k" markerWidth="4" markerHeight="4" refX="2" refY="2" orient="auto"><path d="M0 0l4 2-4 2z"/></marker><path marker-end="url(#k)" d="M3 12h14" stroke="#000" stroke-width="2"/>',
    ),
  },
  { name: 'nested viewport', svg: board('<svg x="4" y="4" width="16" height="16" viewBox="0 0 4 4"><circle cx="2" cy="2" r="2"/></svg>') },
  {
    name: 'a symbol used twice',
    svg: board(
      '<symbol id="s" viewBox="0 0 10 10"><path d="M0 0h10L5 10z"/></symbol><use href="#s" width="10" height="10" x="1" y="7"/><use xlink:href="#s" width="10" height="10" x="13" y="7"/>',
    ),
  },
  {
    name: 'pattern',
    svg: board(
      '<pattern id="p" width="4" height="4" patternUnits="userSpaceOnUse"><rect width="2" height="2"/></pattern><rect x="2" y="2" width="20" height="20" fill="url(#p)"/>',
    ),
    told: 'pattern',
  },
  {
    name: 'gradient that fades out',
    svg: board(
      '<linearGradient id="g"><stop offset="0"/><stop offset="1" stop-opacity="0"/></linearGradient><rect x="2" y="2" width="20" height="20" fill="url(#g)"/>',
    ),
    told: 'gradient',
  },
  { name: 'half opacity', svg: board('<rect x="2" y="2" width="20" height="20" opacity=".4"/>'), told: 'opacity' },
  {
    name: 'filter',
    svg: board('<filter id="f"><feGaussianBlur stdDeviation="3"/></filter><rect x="6" y="6" width="12" height="12" filter="url(#f)"/>'),
    told: 'filter',
  },
  {
    name: 'text',
    svg: board('<text x="2" y="20" font-size="20" font-family="Nowhere">A</text><rect width="4" height="4"/>'),
    told: 'text',
  },
  {
    name: 'foreignObject',
    svg: board(
      '<foreignObject width="24" height="24"><p xmlns="http://www.w3.org/1999/xhtml">Hi</p></foreignObject><rect width="9" height="9"/>',
    ),
    told: 'foreign-object',
  },
  { name: 'picture', svg: board(`<image width="20" height="20" href="${PIXEL}"/><rect width="4" height="4"/>`), told: 'picture' },
  {
    name: 'a line that keeps its width',
    svg: board('<path vector-effect="non-scaling-stroke" transform="scale(4)" d="M1 3h4" stroke="#000" stroke-width="1"/>'),
    told: 'fixed-stroke',
  },
  {
    name: 'custom properties',
    svg: board(
      '<style>svg{--ink:#000}.a{fill:var(--ink)}.b{fill:var(--none,#000)}</style><rect class="a" width="9" height="9"/><rect class="b" x="12" width="9" height="9"/>',
    ),
  },
  {
    name: 'media query',
    svg: board('<style>@media (prefers-color-scheme: dark){.a{fill:none}}</style><rect class="a" x="2" y="2" width="20" height="20"/>'),
  },
  {
    name: 'animation',
    svg: board('<rect x="2" y="2" width="9" height="9"><animate attributeName="x" to="12" dur="1s"/></rect>'),
    told: 'animation',
  },
];

export const UNSEEN: readonly SvgFeature[] = [
  { name: 'even-odd star that crosses itself', svg: board('<path fill-rule="evenodd" d="M12 2l6 19L2 9h20L6 21z"/>') },
  { name: 'nonzero star that crosses itself', svg: board('<path d="M12 2l6 19L2 9h20L6 21z"/>') },
  {
    name: 'clip rule',
    svg: board(
      '<clipPath id="c"><path clip-rule="evenodd" d="M2 2h20v20H2zM8 8h8v8H8z"/></clipPath><circle cx="12" cy="12" r="10" clip-path="url(#c)"/>',
    ),
  },
  {
    name: 'clip path that is clipped',
    svg: board(
      '<clipPath id="a"><rect x="2" y="2" width="12" height="20"/></clipPath><clipPath id="c" clip-path="url(#a)"><circle cx="12" cy="12" r="9"/></clipPath><rect width="24" height="24" clip-path="url(#c)"/>',
    ),
  },
  {
    name: 'clip path of a used shape',
    svg: board(
      '<defs><circle id="o" cx="12" cy="12" r="7"/></defs><clipPath id="c"><use href="#o"/></clipPath><rect width="24" height="12" clip-path="url(#c)"/>',
    ),
  },
  {
    name: 'mask by luminance with a group turned',
    svg: board(
      '<mask id="m"><rect x="4" y="4" width="16" height="16" fill="#fff"/></mask><g mask="url(#m)" transform="rotate(20 12 12)"><path d="M0 0h24v24z"/></g>',
    ),
  },
  {
    name: 'mask of a gradient',
    svg: board(
      '<linearGradient id="g"><stop stop-color="#fff"/><stop offset="1" stop-color="#000"/></linearGradient><mask id="m"><rect width="24" height="24" fill="url(#g)"/></mask><rect width="24" height="24" mask="url(#m)"/>',
    ),
    told: 'gradient',
  },
  {
    name: 'dashes on a closed line, inked at both ends',
    svg: board(
      '<rect x="4" y="4" width="16" height="16" fill="none" stroke="#000" stroke-width="3" stroke-dasharray="20 6" stroke-dashoffset="5"/>',
    ),
  },
  { name: 'dashes longer than the line', svg: board('<path d="M3 8h18M3 16h5" stroke="#000" stroke-width="3" stroke-dasharray="40 2"/>') },
  {
    name: 'dashes on an uneven scale',
    svg: board('<g transform="scale(2 1)"><path d="M2 6h8v12" fill="none" stroke="#000" stroke-width="2" stroke-dasharray="3 1"/></g>'),
  },
  {
    name: 'a circle stroked under a skew',
    svg: board('<circle transform="skewX(20) translate(-4 0)" cx="12" cy="12" r="7" fill="none" stroke="#000" stroke-width="3"/>'),
  },
  {
    name: 'round joins and ends, a line back on itself',
    svg: board('<path d="M4 12h14H8" fill="none" stroke="#000" stroke-width="5" stroke-linecap="round" stroke-linejoin="round"/>'),
  },
  {
    name: 'miter joins within the limit',
    svg: board('<path d="M4 18L12 5l8 13" fill="none" stroke="#000" stroke-width="3" stroke-miterlimit="10"/>'),
  },
  {
    name: 'markers in the middle',
    svg: board(
      '<marker id="k" markerWidth="5" markerHeight="5" refX="2.5" refY="2.5" markerUnits="userSpaceOnUse"><circle cx="2.5" cy="2.5" r="2.5"/></marker><polyline marker-mid="url(#k)" marker-start="url(#k)" points="4,18 12,6 20,18" fill="none" stroke="#000"/>',
    ),
  },
  {
    name: 'nested viewport that slices',
    svg: board(
      '<svg x="2" y="6" width="20" height="10" viewBox="0 0 10 10" preserveAspectRatio="xMidYMid slice"><circle cx="5" cy="5" r="5"/></svg>',
    ),
  },
  { name: 'a board that is wide', svg: board('<rect x="2" y="2" width="44" height="20" rx="6"/>', 'viewBox="0 0 48 24"') },
  {
    name: 'a board with another corner and size',
    svg: board('<circle cx="0" cy="0" r="40"/>', 'viewBox="-50 -50 100 100" width="24" height="24"'),
  },
  { name: 'units', svg: board('<rect x="2mm" y="2mm" width="1cm" height=".3in"/>', 'width="20mm" height="15mm"') },
  { name: 'percentages', svg: board('<rect x="10%" y="25%" width="80%" height="50%"/>') },
  {
    name: 'a style sheet by class and id, and what is inherited',
    svg: board(
      '<style>#a .b{fill:none;stroke:#000;stroke-width:3}</style><g id="a" stroke-linecap="round"><path class="b" d="M4 6h16M4 18h16"/></g>',
    ),
  },
  {
    name: 'hidden parts',
    svg: board(
      '<rect width="24" height="24" display="none"/><g visibility="hidden"><rect width="24" height="24"/><rect visibility="visible" x="6" y="6" width="12" height="12"/></g>',
    ),
  },
  { name: 'current color', svg: board('<g color="#000"><path fill="currentColor" d="M4 4h16v16z"/></g>') },
  { name: 'an arc with flags run together', svg: board('<path d="M4 12a8 8 0 1116 0 8 8 0 01-16 0zm5 0a3 3 0 106 0 3 3 0 00-6 0z"/>') },
  { name: 'smooth curves by reflection', svg: board('<path d="M2 12C2 6 8 6 8 12S14 18 14 12T22 12V22H2z"/>') },
  {
    name: 'a mirrored group',
    svg: board(
      '<g transform="matrix(-1 0 0 1 24 0)"><path d="M4 4h12l-6 6h6v10H4z" /><path d="M18 4v16" stroke="#000" stroke-width="2"/></g>',
    ),
  },
  {
    name: 'white over black',
    svg: board('<circle cx="12" cy="12" r="10"/><path d="M7 12l4 4 7-8" fill="none" stroke="#fff" stroke-width="2"/>'),
  },
  {
    name: 'a fill under its own stroke',
    svg: board('<path d="M5 5h14v14H5z" fill="#fff" stroke="#000" stroke-width="2"/><path d="M8 12h8" stroke="#000" stroke-width="2"/>'),
  },
  {
    name: 'blending',
    svg: board('<rect width="14" height="24"/><rect x="8" width="14" height="24" style="mix-blend-mode:difference" fill="#fff"/>'),
    told: 'blend',
  },
  {
    name: 'a picture from outside',
    svg: board('<image width="20" height="20" href="https://example.org/a.png"/><rect width="4" height="4"/>'),
    told: 'external',
  },
  { name: 'a use from outside', svg: board('<use href="other.svg#x"/><rect width="4" height="4"/>'), told: 'external' },
  {
    name: 'a script',
    svg: board('<script>document.title="x"</script><rect onclick="alert(1)" x="2" y="2" width="20" height="20"/>'),
    told: 'script',
  },
  { name: 'a path that breaks off', svg: board('<path d="M2 2h9v9H2zM13 13hNaNv9"/>'), told: 'broken-path' },
  {
    name: 'a drop shadow',
    svg: board('<filter id="f"><feDropShadow dx="2" dy="2" stdDeviation="1"/></filter><circle cx="10" cy="10" r="7" filter="url(#f)"/>'),
    told: 'filter',
  },
  {
    name: 'animation by style sheet',
    svg: board(
      '<style>@keyframes spin{to{transform:rotate(1turn)}}rect{animation:spin 1s infinite}</style><rect x="6" y="6" width="12" height="12"/>',
    ),
    told: 'animation',
  },
  {
    name: 'fill opacity and stroke opacity',
    svg: board('<circle cx="12" cy="12" r="8" fill-opacity=".3" stroke="#000" stroke-opacity=".5" stroke-width="3"/>'),
    told: 'opacity',
  },
  {
    name: 'radial gradient of one color',
    svg: board(
      '<radialGradient id="g"><stop stop-color="#123"/><stop offset="1" stop-color="#123"/></radialGradient><circle cx="12" cy="12" r="9" fill="url(#g)"/>',
    ),
  },
  {
    name: 'switch',
    svg: board('<switch><g systemLanguage="xx"><rect width="24" height="24"/></g><g><circle cx="12" cy="12" r="8"/></g></switch>'),
  },
  { name: 'paint order', svg: board('<circle cx="12" cy="12" r="8" fill="#fff" stroke="#000" stroke-width="4" paint-order="stroke"/>') },
];
