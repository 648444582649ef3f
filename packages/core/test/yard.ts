import { defineRule, defineRulebook, int, minutes, seatRef } from 'zinc-referee'
import { firstTo, mostAtTime, roster, rounds, scores, verdict, vitals } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { skirmish } from './skirmish.ts'

export const seats = { min: 2, max: 4 }
export const lobby = (...names: string[]) => playMatch(skirmish, names, { start: false }).match
export const yard = defineRule({
  name: 'yard',
  needs: [vitals, scores, roster],
  facts: {
    fell: { input: { seat: seatRef() }, handle: (match, { seat }) => match.use(vitals).bringDown(seat) },
    hit: {
      input: { target: seatRef(), by: seatRef(), amount: int() },
      handle: (match, blow) => match.use(vitals).hurt(blow),
    },
    earn: {
      input: { seat: seatRef(), amount: int() },
      handle: (match, { seat, amount }) => match.use(scores).give({ seat, amount, reason: 'earned' }),
    },
    /** There and back in one step. */
    flash: {
      input: { seat: seatRef() },
      handle(match, { seat }) {
        match.use(scores).give({ seat, amount: 9, reason: 'up' })
        return match.use(scores).give({ seat, amount: -9, reason: 'down' })
      },
    },
    out: {
      input: { seat: seatRef() },
      handle: (match, { seat }) => match.use(roster).sideline(seat, 'home'),
    },
  },
})
export const goal = defineRulebook({
  name: 'goal',
  seats,
  rules: [rounds({ length: minutes(1) }), vitals, scores, verdict({ when: [firstTo(5), mostAtTime] }), yard],
})
