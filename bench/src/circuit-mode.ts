import { defineRule, defineRulebook, everyone, int, perSeat } from 'zinc-referee'

/** The least that a match can do: an action counts. What is measured around it is the circuit. */
const counts = defineRule({
  name: 'counts',
  state: { counted: perSeat({ n: int(0).seenBy(everyone) }) },
  actions: {
    count: {
      input: {},
      decide(match, seat) {
        match.own.counted.of(seat).n += 1
      },
    },
  },
})
export const counting = defineRulebook({ name: 'counting', seats: { min: 1, max: 2 }, rules: [counts] })
