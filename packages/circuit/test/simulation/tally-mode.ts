import { defineRule, defineRulebook, everyone, int, owner, perSeat, single } from 'zinc-referee'

/** Counts what each seat adds, and beats a drum by itself. */
const tallyOf = (bells: number) =>
  defineRule({
    name: 'tally',
    state: {
      counts: perSeat({ all: int(0).seenBy(everyone), luck: int(0).seenBy(owner) }),
      drum: single({ beats: int(0).seenBy(everyone) }),
      /** Nothing tells two of them apart. */
      bell: single({ rung: int(0).seenBy(everyone), ...(bells > 1 && { second: int(7).seenBy(everyone) }) }),
    },
    timers: {
      drum: {
        clock: 'match',
        fire(match) {
          match.own.drum.beats += 1
        },
      },
    },
    facts: {
      ring: {
        input: {},
        handle(match) {
          match.own.bell.rung += 1
        },
      },
    },
    actions: {
      add: {
        input: {},
        decide(match, seat) {
          const counts = match.own.counts.of(seat)
          counts.all += 1
          counts.luck += match.chance('luck').int(1, 6)
          if (!match.timers.runs('drum')) match.timers.start('drum', { every: 700 })
        },
      },
    },
  })
const seats = { min: 1, max: 4 }
export const tallyMode = defineRulebook({ name: 'tally', seats, rules: [tallyOf(1)] })
/** A newer version: with a second bell. */
export const newerTallyMode = defineRulebook({ name: 'tally', seats, rules: [tallyOf(2)] })
