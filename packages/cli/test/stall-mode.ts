/** A small mode of a user's own: stalls sell jars, and the first with twenty points wins. */
export const MODE = `
import { defineRule, defineRulebook, everyone, int, perSeat } from 'zinc-referee'
import { firstTo, scores, verdict } from 'zinc-referee/rules'
const stall = defineRule({
  name: 'stall', needs: [scores], state: { sold: perSeat({ jars: int(0).seenBy(everyone) }) },
  actions: { sell: { input: { jars: int(1).between(1, 3) }, decide(match, seat, { jars }) {
    match.own.sold.of(seat).jars += jars
    return match.use(scores).give({ seat, amount: jars, reason: 'sold' })
  } } },
})
export default defineRulebook({ name: 'jam-stall', seats: { min: 2, max: 4 }, rules: [scores, verdict({ when: [firstTo(20)] }), stall] })
`
