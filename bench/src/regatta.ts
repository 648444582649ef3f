import { BareLoop } from './bare-loop.js'
import { happen, regatta } from './fleet.js'
import { hits } from './hits.js'
import { figure, type Row, ratio, timed } from './measure.js'

const FACTS = 5000
const HITS = hits(FACTS)

/** A whole regatta in live play, every rule on, with its eight viewers' patches made each 50 ms. */
function river(): () => void {
  const match = regatta(0)
  return () => {
    for (let n = 0; n < FACTS; n++) {
      if (n % 10 === 0) {
        match.advanceTo(match.now + 50)
        match.flush()
      }
      happen(match, n)
    }
  }
}

function bare(): () => void {
  const loop = new BareLoop()
  return () => {
    for (const hit of HITS) loop.hit(hit)
  }
}

/** What a fact costs in a whole mode, against a loop that knows of one rule only and shows nobody anything. */
export function regattaRows(): Row[] {
  return [
    figure('regatta/fact', 'µs', undefined, () => (timed(river()) / FACTS) * 1000),
    ratio(
      'regatta/bare',
      { most: 120 },
      () => timed(river()),
      () => timed(bare()),
      15,
    ),
  ]
}
