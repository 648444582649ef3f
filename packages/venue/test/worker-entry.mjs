// A worker of the tests, from what is built.
import { reedRegatta, steppingStones } from '@zinc-referee/examples'
import { runWorker } from '@zinc-referee/venue'

await runWorker({
  records: process.argv[2],
  rulebooks: [steppingStones, reedRegatta],
  limits: { joins: { burst: 1000, perSecond: 1000 } },
})
