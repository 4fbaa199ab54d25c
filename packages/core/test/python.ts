import { spawnSync } from 'node:child_process';

/**
 * Runs a Python script with Debian's fontTools and reads the JSON it prints. `input` is what the script finds as `given`.
 * @throws Error with what Python wrote when it fails
 */
export function python<T>(script: string, input: unknown = null): T {
  const run = spawnSync('/usr/bin/python3', ['-c', `import json, sys\ngiven = json.load(sys.stdin)\n${script}`], {
    input: JSON.stringify(input),
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  if (run.status !== 0) throw new Error(run.stderr);
  return JSON.parse(run.stdout) as T;
}
