import {
  constant,
  countOf,
  declare,
  derived,
  fixed,
  jump,
  list,
  lookUp,
  optional,
  record,
  tag,
  uint16,
  type Data,
} from '../declare/index.js';

const axis = record({
  axisTag: tag,
  /** Values in the axis's own units. */
  minValue: fixed,
  defaultValue: fixed,
  maxValue: fixed,
  /** Bit 0: hidden from people. */
  flags: uint16,
  axisNameID: uint16,
});
const instance = record({
  subfamilyNameID: uint16,
  flags: uint16,
  /** One value an axis. */
  coordinates: list('axisCount', fixed),
  postScriptNameID: optional((s) => (lookUp(s, 'instanceSize') as number) >= 4 * (lookUp(s, 'axisCount') as number) + 6, uint16),
});
type Instance = Data<typeof instance>;

const fields = record({
  majorVersion: uint16,
  minorVersion: uint16,
  axesArrayOffset: constantOffset(16),
  reserved: constant(uint16, 2),
  axisCount: countOf(uint16, 'axes'),
  axisSize: constant(uint16, 20),
  instanceCount: countOf(uint16, 'instances'),
  instanceSize: derived(uint16, ({ values }) => {
    const named = (values.instances as Instance[]).some((i) => i.postScriptNameID !== null);
    return 4 * (values.axes as unknown[]).length + (named ? 6 : 4);
  }),
  toAxes: jump('axesArrayOffset'),
  axes: list('axisCount', axis),
  instances: list('instanceCount', instance),
});

function constantOffset(at: number): ReturnType<typeof derived> {
  return derived(uint16, () => at);
}

/** Axes and named instances of a variable face. Source: OpenType specification, fvar. */
export const FVAR = declare('fvar', fields);
export type Fvar = Data<typeof fields>;
export type VariationAxis = Data<typeof axis>;
export type NamedInstance = Instance;

/** Bit 0 of an axis's flags: programs should not show it. */
export const HIDDEN_AXIS = 0x0001;
