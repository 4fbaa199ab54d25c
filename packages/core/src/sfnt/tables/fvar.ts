import { Reader } from '../reader.js';

/** One variation axis in its own units. Source: OpenType specification, fvar. */
export interface VariationAxis {
  axisTag: string;
  minValue: number;
  defaultValue: number;
  maxValue: number;
  axisNameID: number;
  hidden: boolean;
}

export interface NamedInstance {
  subfamilyNameID: number;
  coordinates: number[];
}

export function readFvar(data: Uint8Array): { axes: VariationAxis[]; instances: NamedInstance[] } {
  const r = new Reader(data, 'fvar');
  const start = r.u16(4);
  const axisCount = r.u16(8);
  const axisSize = r.u16(10);
  const instanceCount = r.u16(12);
  const instanceSize = r.u16(14);
  r.need(start, axisCount * axisSize + instanceCount * instanceSize);
  const axes = Array.from({ length: axisCount }, (_, i) => {
    const at = start + i * axisSize;
    return {
      axisTag: r.tag(at),
      minValue: r.fixed(at + 4),
      defaultValue: r.fixed(at + 8),
      maxValue: r.fixed(at + 12),
      hidden: (r.u16(at + 16) & 1) !== 0,
      axisNameID: r.u16(at + 18),
    };
  });
  const first = start + axisCount * axisSize;
  const instances = Array.from({ length: instanceCount }, (_, i) => {
    const at = first + i * instanceSize;
    return { subfamilyNameID: r.u16(at), coordinates: axes.map((_, axis) => r.fixed(at + 4 + 4 * axis)) };
  });
  return { axes, instances };
}
