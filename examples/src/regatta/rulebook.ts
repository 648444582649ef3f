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
} from 'zinc-referee'
import {
  boostsOf,
  credit,
  mostAtTime,
  respawn,
  roster,
  rounds,
  scores,
  teams,
  verdict,
  vitals,
  whileUp,
} from 'zinc-referee/rules'
import { z } from 'zod'

export const prows = boostsOf({ bronze: { lasts: seconds(8) } })

/** Rafts on the river: each heads somewhere, rams whom it meets, and lands the cargo it finds. */
export const raft = defineRule({
  name: 'raft',
  needs: [vitals, scores, roster, teams, prows],
  settings: z.object({
    /** What a ram takes from the health of the raft it hits. */
    ram: z.int().min(1).default(25),
  }),
  state: {
    // Nobody sees where a raft is heading.
    helm: perSeat({ course: choice('drift', 'raft', 'cargo', 'dock'), quarry: maybe(seatRef()) }).each(
      'life',
    ),
    // Only its owner sees what a raft carries.
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
  },
  actions: {
    chase: {
      when: whileUp,
      input: { quarry: seatRef() },
      decide(match, seat, { quarry }) {
        if (quarry === seat) return refuse('own-raft')
        if (!match.use(roster).isInPlay(quarry)) return refuse('not-in-play')
        if (!match.use(teams).foes(seat, quarry)) return refuse('own-crew')
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
  // What the river reports.
  facts: {
    rammed: {
      input: { target: seatRef(), by: seatRef() },
      hear(match, { target, by }) {
        const ruling = match.use(vitals).hurt({ target, by, amount: match.settings.ram, kind: 'ram' })
        if (ruling.ok && !ruling.idle)
          match.emit('rammed', { target, by, health: match.use(vitals).health(target) })
        return ruling
      },
    },
    found: {
      input: { seat: seatRef(), crates: int(1) },
      hear(match, { seat, crates }) {
        if (!match.use(vitals).isUp(seat)) return refuse('down')
        const hold = match.own.hold.of(seat)
        hold.cargo += crates
        match.emit('found', { seat, cargo: hold.cargo })
      },
    },
    bronze: {
      input: { seat: seatRef() },
      hear(match, { seat }) {
        const ruling = match.use(prows).give({ seat, kind: 'bronze' })
        if (ruling.ok) match.emit('armed', { seat })
        return ruling
      },
    },
    docked: {
      input: { seat: seatRef() },
      hear(match, { seat }) {
        const hold = match.own.hold.of(seat)
        const { cargo } = hold
        if (cargo === 0) return refuse('nothing-to-land')
        hold.cargo = 0
        match.emit('landed', { seat, cargo })
        return match.use(scores).give({ seat, amount: cargo, reason: 'cargo-landed' })
      },
    },
  },
  amend: {
    /** A bronze prow doubles rams. */
    'vitals.hurt'(match, { kind, by, amount }) {
      if (kind === 'ram' && match.use(prows).has(by, 'bronze')) amount.times(2)
    },
  },
  on: {
    // What a raft carries is lost when it sinks.
    'vitals.down'(match, { seat }) {
      match.own.hold.of(seat).cargo = 0
    },
  },
})

/** Two crews and five minutes on the river, and longer while they are level. Sinking a raft and landing cargo score; a sunk raft is back after 3 s, and safe for 2. */
export const reedRegatta = defineRulebook({
  name: 'reed-regatta',
  seats: { min: 2, max: 8 },
  rules: [
    teams({ count: 2 }),
    rounds({ length: minutes(5), suddenEnd: true, overtime: minutes(2) }),
    vitals({ max: 100, healthSeen: 'everyone' }),
    scores,
    credit({ points: { kill: 2 } }),
    respawn({ after: seconds(3), protectFor: seconds(2) }),
    prows,
    verdict({ when: [mostAtTime] }),
    raft,
  ],
})
