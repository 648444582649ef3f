import {
  choice,
  defineRule,
  defineRulebook,
  everyone,
  int,
  maybe,
  minutes,
  owner,
  perSeat,
  refuse,
  seatRef,
  seconds,
  side,
} from 'zinc-referee'
import {
  areas,
  boostsOf,
  credit,
  mostAtTime,
  mostRounds,
  respawn,
  roster,
  rounds,
  scores,
  teams,
  verdict,
  vitals,
  whileUp,
} from 'zinc-referee/rules'
import { fields, setting, whole } from 'zinc-referee/settings'
import { docks } from './docks.ts'

/** Finds of a raft: a bronze prow that doubles rams, for all to see, and mist that only its crew knows about. */
export const finds = boostsOf({
  bronze: { lasts: seconds(8), strikes: 2 },
  mist: { lasts: seconds(10), seenBy: side },
})

/** After each of these, anybody may see a raft that it did not see, or no longer. */
const looks = [
  'raft.veiled',
  'boosts.begun',
  'boosts.ended',
  'areas.at',
  'teams.switched',
  'roster.left',
  'roster.sidelined',
  'vitals.down',
  'vitals.life-began',
  'time',
]

/** Rafts on the river. Each heads somewhere, rams foes that it meets, and lands the cargo that it finds. */
export const raft = defineRule({
  name: 'raft',
  needs: [vitals, scores, roster, teams, areas, finds],
  settings: fields({
    /** Damage of a ram to the raft that it hits. */
    ram: setting(whole({ min: 1 }), 25),
    /** Distance from which foes see a raft that is in mist. */
    mist: setting(whole({ min: 0 }), 90),
  }),
  refusals: {
    'own-raft': 'That is your own raft. Choose a foe.',
    'own-crew': 'That raft is of your crew. Choose a foe.',
    'nothing-to-land': 'You carry no cargo. Search for some first.',
  },
  discloses: [
    { secret: 'raft.hold.cargo', by: 'raft.landed', to: 'everyone', why: 'cargo is shown when it is landed' },
    {
      secret: 'boosts.rows.on',
      by: looks,
      to: 'everyone',
      why: 'a raft that is near and not seen lies in mist',
    },
  ],
  state: {
    // Nobody sees where a raft is heading.
    helm: perSeat({ course: choice('drift', 'raft', 'cargo', 'dock'), quarry: maybe(seatRef()) }).each(
      'life',
    ),
    // Only its owner sees a raft's cargo.
    hold: perSeat({ cargo: int(0).seenBy(owner) }).each('life'),
  },
  events: {
    rammed: {
      target: seatRef().seenBy(everyone),
      by: seatRef().seenBy(everyone),
      health: int().seenBy(everyone),
    },
    found: { seat: seatRef().seenBy(owner), cargo: int().seenBy(owner) },
    landed: { seat: seatRef().seenBy(everyone), cargo: int().seenBy(everyone) },
    armed: { seat: seatRef().seenBy(everyone) },
    veiled: { seat: seatRef().seenBy(side) },
  },
  actions: {
    chase: {
      when: whileUp,
      input: { quarry: seatRef() },
      decide(match, seat, { quarry }) {
        if (quarry === seat) return refuse('own-raft')
        if (!match.use(roster).isInPlay(quarry)) return refuse('not-in-play')
        if (!match.use(teams).foes(seat, quarry)) return refuse('own-crew')
        // The same answer whether it is hidden or not on the river at all.
        if (!match.use(areas).sees(seat, quarry)) return refuse('no-such-target')
        const helm = match.own.helm.of(seat)
        helm.course = 'raft'
        helm.quarry = quarry
      },
    },
    search: {
      when: whileUp,
      input: {},
      decide(match, seat) {
        match.own.helm.of(seat).course = 'cargo'
      },
    },
    dock: {
      when: whileUp,
      input: {},
      decide(match, seat) {
        match.own.helm.of(seat).course = 'dock'
      },
    },
  },
  // Facts that the river reports.
  facts: {
    rammed: {
      input: { target: seatRef(), by: seatRef() },
      handle(match, { target, by }) {
        const ruling = match.use(vitals).hurt({ target, by, amount: match.settings.ram, kind: 'ram' })
        if (ruling.ok && !ruling.idle)
          match.emit('rammed', { target, by, health: match.use(vitals).health(target) })
        return ruling
      },
    },
    found: {
      input: { seat: seatRef(), crates: int(1) },
      handle(match, { seat, crates }) {
        if (!match.use(vitals).isUp(seat)) return refuse('down')
        const hold = match.own.hold.of(seat)
        hold.cargo += crates
        match.emit('found', { seat, cargo: hold.cargo })
      },
    },
    bronze: {
      input: { seat: seatRef() },
      handle(match, { seat }) {
        const ruling = match.use(finds).give({ seat, kind: 'bronze' })
        if (ruling.ok) match.emit('armed', { seat })
        return ruling
      },
    },
    mist: {
      input: { seat: seatRef() },
      handle(match, { seat }) {
        const ruling = match.use(finds).give({ seat, kind: 'mist' })
        if (ruling.ok) match.emit('veiled', { seat })
        return ruling
      },
    },
    docked: {
      input: { seat: seatRef() },
      handle(match, { seat }) {
        const hold = match.own.hold.of(seat)
        const { cargo } = hold
        if (cargo === 0) return refuse('nothing-to-land')
        hold.cargo = 0
        match.emit('landed', { seat, cargo })
        return match.use(scores).give({ seat, amount: cargo, reason: 'cargo-landed' })
      },
    },
  },
  on: {
    // Mist hides a raft from distant foes.
    'boosts.begun'(match, { seat, kind }) {
      if (kind === 'mist') match.use(areas).hide(seat, match.settings.mist)
    },
    'boosts.ended'(match, { seat, kind }) {
      if (kind === 'mist') match.use(areas).hide(seat, undefined)
    },
    // A raft that sinks loses its cargo.
    'vitals.down'(match, { seat }) {
      match.own.hold.of(seat).cargo = 0
    },
  },
})

/**
 * Two crews on the river: best of three rounds of five minutes, and longer while they are tied. Sinking a raft and
 * landing cargo score. A sunk raft is back at a dock of its crew after 3 s, and safe for 2 s. Crews change ends.
 */
export const reedRegatta = defineRulebook({
  name: 'reed-regatta',
  seats: { min: 2, max: 8 },
  rules: [
    teams({ count: 2 }),
    rounds({
      length: minutes(5),
      count: 3,
      bestOf: true,
      breakTime: seconds(10),
      swapEnds: 'each',
      suddenEnd: true,
      overtime: minutes(2),
    }),
    vitals({ max: 100, healthSeen: 'everyone' }),
    scores,
    credit({ points: { kill: 2 } }),
    areas,
    respawn({ after: seconds(3), protectFor: seconds(2), places: docks }),
    finds,
    verdict({ when: [mostAtTime.decides('round'), mostRounds] }),
    raft,
  ],
})
