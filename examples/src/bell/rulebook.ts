import { defineRulebook, minutes, seconds } from 'zinc-referee'
import {
  credit,
  firstToHold,
  idle,
  mostHeld,
  mostRounds,
  respawn,
  roster,
  rounds,
  scores,
  teams,
  verdict,
  vitals,
  zones,
} from 'zinc-referee/rules'
import { bell, docks, goal } from './pier.ts'
import { BELL, fog, keepers, tally, tide } from './tide.ts'

/**
 * Two crews on a pier in the fog. A crew rings the bell while it alone stands there: first to a minute wins the round,
 * or who rang longer after four minutes. Best of three, ends changed after each.
 */
export const bellTide = defineRulebook({
  name: 'bell-tide',
  seats: { min: 4, max: 10 },
  rules: [
    roster({ lateJoin: 'next-round', lateWindow: minutes(1) }),
    teams({ count: 2, balance: 'at-round' }),
    rounds({
      length: minutes(4),
      count: 3,
      bestOf: true,
      breakTime: seconds(10),
      swapEnds: 'each',
      overtime: minutes(1),
    }),
    vitals({ max: 100, healthSeen: 'near' }),
    scores,
    credit,
    fog,
    respawn({
      mode: 'growing',
      after: seconds(5),
      step: seconds(1),
      maxDelay: seconds(10),
      growsPer: 'round',
      place: 'far',
      places: docks,
    }),
    zones({ names: [BELL], places: { [BELL]: bell }, counts: 'time', goal }),
    keepers({ dealt: 'round', whenHolderGoes: 'passes-on' }),
    idle({ warnAfter: seconds(45), after: minutes(1), whenIdle: 'sideline' }),
    tally,
    verdict({
      when: [firstToHold.decides('round'), mostHeld({ levelWithin: 100 }).decides('round'), mostRounds],
    }),
    tide,
  ],
})
