import svgpath from 'svgpath';
import type { Pen } from '../outline/index.js';

/**
 * Draws SVG path data, arcs as cubics; coordinates are multiplied.
 * @returns false when it breaks off: what comes before the fault is drawn
 */
export function drawSvgPath(d: string, scale: number, pen: Pen): boolean {
  const path = svgpath(d);
  const whole = !(path as unknown as { err: string }).err;
  let [x, y, startX, startY] = [0, 0, 0, 0];
  let open = false;
  const at = (px: number, py: number): [number, number] => {
    [x, y] = [px, py];
    return [px * scale, py * scale];
  };
  const begin = (): void => {
    // After a closed contour the next one starts where it did.
    if (!open) pen.moveTo(x * scale, y * scale);
    open = true;
  };
  path
    .unshort()
    .unarc()
    .abs()
    .iterate((segment) => {
      const [command, ...n] = segment as [string, ...number[]];
      switch (command) {
        case 'M':
          if (open) pen.closePath();
          pen.moveTo(...at(n[0]!, n[1]!));
          open = true;
          [startX, startY] = [x, y];
          break;
        case 'L':
          begin();
          pen.lineTo(...at(n[0]!, n[1]!));
          break;
        case 'H':
          begin();
          pen.lineTo(...at(n[0]!, y));
          break;
        case 'V':
          begin();
          pen.lineTo(...at(x, n[0]!));
          break;
        case 'Q':
          begin();
          pen.quadTo(n[0]! * scale, n[1]! * scale, ...at(n[2]!, n[3]!));
          break;
        case 'C':
          begin();
          pen.cubicTo(n[0]! * scale, n[1]! * scale, n[2]! * scale, n[3]! * scale, ...at(n[4]!, n[5]!));
          break;
        default:
          if (open) pen.closePath();
          open = false;
          [x, y] = [startX, startY];
      }
    });
  if (open) pen.closePath();
  return whole;
}
