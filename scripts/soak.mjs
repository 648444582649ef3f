// npm run soak -- --minutes 30 --seed 1: plays random rulebooks at random and audits the modes, for this many minutes.
import { spawnSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'

const { values } = parseArgs({
  options: {
    minutes: { type: 'string', default: '5' },
    seed: { type: 'string' },
    kills: { type: 'string' },
    circuit: { type: 'boolean' },
    faults: { type: 'string' },
    only: { type: 'string' },
    matches: { type: 'string' },
    help: { type: 'boolean' },
  },
})
if (values.help || !(Number(values.minutes) > 0)) {
  console.log(`npm run soak                      five minutes
npm run soak -- --minutes 30      for 30 minutes
npm run soak -- --seed 17         seeds from 17 on. Default: from the time
npm run soak -- --kills 50        instead: 50 matches whose venue is killed this often
npm run soak -- --circuit         instead: histories of a circuit, in which everything goes wrong
npm run soak -- --faults 15       instead: 300 matches on three servers and three venues; each fault so often
                                  --only 'a venue': those with this in their name; --matches 9: fewer of them

A failure is shrunk and written to soak-SEED.test.ts, which plays it again.`)
  process.exit(values.help ? 0 : 2)
}
const script =
  values.faults !== undefined
    ? 'scripts/soak-circuit-faults.ts'
    : values.circuit
      ? 'scripts/soak-circuit.ts'
      : values.kills !== undefined
        ? 'scripts/soak-kills.ts'
        : 'scripts/soak.ts'
const root = fileURLToPath(new URL('..', import.meta.url))
const { status } = spawnSync(
  process.execPath,
  ['node_modules/vitest/vitest.mjs', 'run', '--config', 'vitest.soak.config.ts', script],
  {
    cwd: root,
    stdio: 'inherit',
    env: {
      ...process.env,
      SOAK_MINUTES: values.minutes,
      ...(values.kills !== undefined && { SOAK_KILLS: values.kills }),
      ...(values.faults !== undefined && { SOAK_FAULTS: values.faults }),
      ...(values.only !== undefined && { SOAK_ONLY: values.only }),
      ...(values.matches !== undefined && { SOAK_MATCHES: values.matches }),
      ...(values.seed !== undefined && { SOAK_SEED: values.seed }),
    },
  },
)
process.exit(status ?? 1)
