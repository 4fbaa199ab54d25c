// Runs one test suite, compiled to JavaScript, in plain Node with Jest's own expectations, and stops at the first failure.
// node bench/suite.mjs FILE: ends with 0 where all passed, 1 where one failed. Used by mutants.mjs, where starting Jest takes longer than the tests.
import { pathToFileURL } from 'node:url';
import { expect } from 'expect';

const root = { before: [], after: [], beforeEach: [], afterEach: [], children: [] };
let here = root;
const filled = (name, row) => row.reduce((s, v) => s.replace(/%[sdijop#]/, () => String(v)), name);
const each = (add) => (table) => (name, body) => {
  for (const row of table) {
    const values = Array.isArray(row) ? row : [row];
    add(filled(name, values), () => body(...values));
  }
};
const group = (name, body) => {
  const inner = { name, before: [], after: [], beforeEach: [], afterEach: [], children: [], outer: here };
  here.children.push(inner);
  here = inner;
  body();
  here = inner.outer;
};
const test = (name, run) => void here.children.push({ name, run });
group.each = each(group);
group.skip = () => {};
test.each = each(test);
test.skip = () => {};
Object.assign(globalThis, {
  expect,
  test,
  it: test,
  describe: group,
  beforeAll: (f) => here.before.push(f),
  afterAll: (f) => here.after.push(f),
  beforeEach: (f) => here.beforeEach.push(f),
  afterEach: (f) => here.afterEach.push(f),
});

async function runGroup(group, around) {
  const inside = { before: [...around.before, ...group.beforeEach], after: [...group.afterEach, ...around.after] };
  try {
    for (const f of group.before) await f();
    for (const child of group.children)
      if (child.run) {
        try {
          for (const f of inside.before) await f();
          await child.run();
          for (const f of inside.after) await f();
        } catch (e) {
          throw new Error(`${child.name}: ${e?.message ?? e}`, { cause: e });
        }
      } else await runGroup(child, inside);
  } finally {
    for (const f of group.after) await f();
  }
}
try {
  await import(pathToFileURL(process.argv[2]).href);
  await runGroup(root, { before: [], after: [] });
} catch (e) {
  console.error(e);
  process.exit(1);
}
process.exit(0);
