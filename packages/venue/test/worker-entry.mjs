// A worker of the tests, from what is built.
import { modesByName } from '@zinc-referee/examples/by-name'
import { runWorker } from '@zinc-referee/venue'

const modes = await Promise.all(['stepping-stones', 'reed-regatta'].map((name) => modesByName[name]()))
await runWorker({
  records: process.argv[2],
  rulebooks: modes.map(({ rulebook }) => rulebook),
  limits: { joins: { burst: 1000, perSecond: 1000 } },
})
