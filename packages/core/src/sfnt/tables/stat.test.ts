import { python } from '../../../test/python.js';
import { STAT, type OpenTables } from '../index.js';

const NO_TABLES = { table: () => null, has: () => false, bytes: () => null } as unknown as OpenTables;
const bytesOf = (hex: string): Uint8Array => Uint8Array.from(hex.match(/../g)!, (b) => parseInt(b, 16));

test('style attributes of every format and version are those that fontTools built', () => {
  // fontTools.otlLib.builder.buildStatTable: values of formats 1 to 4, which make it version 1.1 or 1.2.
  const built = python<{ hex: string; fallback: number; axes: [string, number, number][]; values: unknown[] }>(`
from fontTools.ttLib import TTFont, newTable
from fontTools.otlLib.builder import buildStatTable
f = TTFont(); f['name'] = newTable('name'); f['name'].names = []
buildStatTable(f, [
  dict(tag='wght', name='Weight', ordering=0, values=[dict(value=100, name='Thin'), dict(value=400, name='Regular', flags=2, linkedValue=700), dict(nominalValue=900, rangeMinValue=800, rangeMaxValue=1000, name='Black')]),
  dict(tag='wdth', name='Width', ordering=1, values=[dict(value=100, name='Normal', flags=2)]),
], [dict(name='Wide Bold', location=dict(wght=700, wdth=125))], elidedFallbackName='Regular')
t = f['STAT']; raw = t.compile(f)
print(json.dumps({'hex': raw.hex(), 'fallback': t.table.ElidedFallbackNameID, 'axes': [[a.AxisTag, a.AxisNameID, a.AxisOrdering] for a in t.table.DesignAxisRecord.Axis], 'values': [v.Format for v in t.table.AxisValueArray.AxisValue]}))`);
  const stat = STAT.read(bytesOf(built.hex), NO_TABLES);
  expect(stat.elidedFallbackNameID).toBe(built.fallback);
  expect(stat.designAxes?.map((a) => [a.axisTag, a.axisNameID, a.axisOrdering])).toEqual(built.axes);
  expect(stat.axisValues?.map((v) => v?.format)).toEqual(built.values);
  expect(built.values).toEqual(expect.arrayContaining([1, 2, 3, 4]));
  // The parts may lie in another order.
  const ours = STAT.write(stat, NO_TABLES);
  expect(STAT.read(ours, NO_TABLES)).toEqual(stat);
  expect(ours.length).toBe(built.hex.length / 2);
});

test('version 1.0 has no name for the style whose parts are all left out, version 1.1 has it at its very end', () => {
  // Source: OpenType specification, STAT header, version 1.1: elidedFallbackNameID.
  const data = Uint8Array.from([0, 1, 0, 0, 0, 8, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0]);
  expect(STAT.read(data, NO_TABLES)).toMatchObject({ minorVersion: 0, elidedFallbackNameID: null });
  const later = Uint8Array.from([...data, 1, 44]);
  later[3] = 1;
  expect(STAT.read(later, NO_TABLES)).toMatchObject({ minorVersion: 1, elidedFallbackNameID: 300 });
});
