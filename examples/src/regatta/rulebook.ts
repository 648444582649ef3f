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
  credit,
  mostAtTime,
  respawn,
  roster,
  rounds,
  scores,
  verdict,
  vitals,
  whileUp,
} from 'zinc-referee/rules'
import { z } from 'zod'

/** Rafts on the river: each heads somewhere, rams whom it meets, and lands the cargo it finds. */
export const raft = defineRule({
  name: 'raft',
  needs: [vitals, scores, roster],
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
  },
  actions: {
    chase: {
      when: whileUp,
      input: { quarry: seatRef() },
      decide(match, seat, { quarry }) {
        if (quarry === seat) return refuse('own-raft')
        if (!match.use(roster).isInPlay(quarry)) return refuse('not-in-play')
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
        if (ruling.ok) match.emit('rammed', { target, by, health: match.use(vitals).health(target) })
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
  on: {
    // What a raft carries is lost when it sinks.
    'vitals.down'(match, { seat }) {
      match.own.hold.of(seat).cargo = 0
    },
  },
})

/** Five minutes on the river. Sinking a raft and landing cargo score; a sunk raft is back after 3 s, and safe for 2. */
export const reedRegatta = defineRulebook({
  name: 'reed-regatta',
  seats: { min: 2, max: 8 },
  rules: [
    rounds({ length: minutes(5) }),
    vitals({ max: 100, healthSeen: 'everyone' }),
    scores,
    credit({ points: { kill: 2 } }),
    respawn({ after: seconds(3), protectFor: seconds(2) }),
    verdict({ when: [mostAtTime] }),
    raft,
  ],
})
