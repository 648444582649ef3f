import { defineRulebook, seconds } from 'zinc-referee'
import { rounds, scores, turns, verdict } from 'zinc-referee/rules'
import { fog, guildMarks, moths, nightBoats, tolls, wind } from './expansions.ts'
import { market } from './market.ts'
import { boats, hang, lampBid, wicks, wishes, work } from './shape.ts'

/** Two to six seats. The most points win when the market has closed. Six expansions, in any combination. */
export const lanternMarket = defineRulebook({
  name: 'lantern-market',
  seats: { min: 2, max: 6 },
  rules: [
    rounds,
    turns({ steps: [work, hang, boats], turnTime: seconds(90) }),
    wicks,
    wishes,
    lampBid({ time: seconds(60) }),
    scores,
    verdict,
    market,
  ],
  optional: [fog, tolls, moths, nightBoats, guildMarks, wind],
})
