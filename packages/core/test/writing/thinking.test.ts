import { expect, test } from 'vitest'
import { choice, defineRule, defineRulebook, everyone, nobody, owner, perSeat, single } from 'zinc-referee'
import { inPhase, verdict } from 'zinc-referee/rules'
import { playMatch, playToEnd, thinkingCrowd } from 'zinc-referee/testing'

const box = choice('left', 'right')

/** Otter opens one of two boxes, and wins if the lamp is in it. Where it is, nobody sees, heron alone, or everyone. */
const lampKnownTo = (who: 'nobody' | 'heron' | 'everyone') => {
  const lamp = defineRule({
    name: 'lamp',
    needs: [verdict],
    state: {
      field: single({ lamp: box.seenBy(who === 'everyone' ? everyone : nobody) }),
      heard: perSeat({ lamp: box.seenBy(owner) }),
    },
    setUp(match) {
      const into = match.chance('lamp').pick(box.values) ?? 'left'
      if (who === 'heron') match.own.heard.of('heron').lamp = into
      else match.own.field.lamp = into
    },
    actions: {
      open: {
        when: inPhase('live'),
        offered: true,
        input: { box },
        decide(match, seat, { box: opened }) {
          const isIn = who === 'heron' ? match.own.heard.of('heron').lamp : match.own.field.lamp
          const winners = match.seats.filter((each) => (each === seat) === (isIn === opened))
          match.use(verdict).claim({ winners, reason: 'opened' })
        },
      },
    },
  })
  return defineRulebook({ name: 'lamp', seats: { min: 2, max: 2 }, rules: [verdict({}), lamp] })
}

test('who thinks wins by what its seat sees, and guesses what it does not see', () => {
  const wins = (who: 'nobody' | 'heron' | 'everyone') => {
    let won = 0
    for (let n = 0; n < 30; n++) {
      const book = lampKnownTo(who)
      const { match } = playMatch(book, ['otter', 'heron'], { seed: `box ${n}` })
      const mind = thinkingCrowd(book, `mind ${n}`, { playouts: 24 })
      const crowd = { ...mind, beat: (each: any) => mind.beat(each, (seat) => seat === 'otter') }
      expect(playToEnd(match, crowd, 60_000)).toBe(true)
      if (match.state.verdict.end.winners.includes('otter')) won++
    }
    return won
  }
  expect(wins('everyone')).toBe(30)
  for (const who of ['nobody', 'heron'] as const) {
    const won = wins(who)
    expect([who, won > 5, won < 25]).toEqual([who, true, true])
  }
})
