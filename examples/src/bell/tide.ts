import {
  defineRule,
  everyone,
  flag,
  int,
  maybe,
  near,
  perSeat,
  refuse,
  rowOf,
  seatRef,
  seconds,
  set,
  side,
  single,
  table,
  text,
} from 'zinc-referee'
import {
  areasOf,
  credit,
  rolesOf,
  roster,
  rounds,
  sheetOf,
  teams,
  vitals,
  whileUp,
  zones,
} from 'zinc-referee/rules'
import { pier, sight } from './pier.ts'

export const BELL = 'bell'
const STONES = 5
const STONE = 'stone'

/** Fog hides foes, and how hurt they are. One's own crew is always seen. */
export const fog = areasOf({ ...sight, teamSees: true })

/** One of each crew keeps its bell, and alone knows it. */
export const keepers = rolesOf({ ringer: {}, keeper: { perTeam: 1, camp: 'ringer' } })

/** What the score sheet counts. */
export const tally = sheetOf({ throws: {}, hits: {}, 'best streak': { keeps: 'most' } })

/** Stones that fly and lie about, and what a bell keeper is worth. */
export const tide = defineRule({
  name: 'tide',
  needs: [vitals, credit, roster, rounds, teams, fog, zones, keepers, tally],
  refusals: {
    'own-crew': 'That is one of your own crew. Choose a foe.',
    'no-stone': 'You have no stone left. Find one on the planks.',
  },
  discloses: [
    ...['areas.spots.x', 'areas.spots.y'].map((secret) => ({
      secret,
      by: 'tide.landed',
      to: 'everyone',
      why: 'a stone lies where its target stood',
    })),
    {
      secret: 'roles.seats.role',
      by: ['tide.unmasked', 'zones.entered', 'zones.left', 'vitals.life-began', 'roles.assigned', 'time'],
      to: 'everyone',
      why: 'a bell that rings twice as fast has its keeper there, and one that goes down is unmasked',
    },
  ],
  state: {
    walks: perSeat({ x: maybe(int()), y: maybe(int()) }).each('life'),
    pockets: perSeat({ stones: int(STONES).seenBy(side) }).each('round'),
    /** Stones in the air, until the game says whether they hit. */
    flying: table({ by: seatRef(), target: seatRef() }).each('round'),
    /** Crews whose keeper was brought down in this round. */
    unmasked: single({ crews: set(int()).seenBy(everyone) }).each('round'),
  },
  events: {
    struck: { seat: seatRef().seenBy(near), by: seatRef().seenBy(near) },
    unmasked: { seat: seatRef().seenBy(everyone) },
    lit: { seat: seatRef().seenBy(everyone) },
  },
  actions: {
    walk: {
      when: whileUp,
      input: { x: int().between(0, pier.width), y: int().between(0, pier.height) },
      decide(match, seat, { x, y }) {
        match.own.walks.of(seat).x = x
        match.own.walks.of(seat).y = y
      },
    },
    throw: {
      when: whileUp,
      input: { target: seatRef() },
      decide(match, seat, { target }) {
        const pocket = match.own.pockets.of(seat)
        if (!match.use(teams).foes(seat, target)) return refuse('own-crew')
        // The same answer whether it is hidden or not on the pier at all.
        if (!match.use(fog).sees(seat, target)) return refuse('no-such-target')
        if (pocket.stones === 0) return refuse('no-stone')
        pocket.stones -= 1
        match.own.flying.add({ by: seat, target })
        match.use(tally).count(seat, 'throws')
      },
    },
  },
  // Facts that the game reports.
  facts: {
    /** A stone has hit, or has not. It lies where its target stood. */
    landed: {
      input: { stone: rowOf('flying'), hits: flag() },
      handle(match, { stone, hits }) {
        const flown = match.own.flying.get(stone)
        if (flown === undefined) return
        const { by, target } = flown
        match.own.flying.remove(stone)
        const spot = match.use(fog).spot(target)
        if (spot !== undefined) match.use(fog).add(STONE, spot)
        return hits ? match.use(vitals).hurt({ target, by, amount: 50, kind: STONE }) : undefined
      },
    },
    gathered: {
      input: { seat: seatRef(), stone: text() },
      handle(match, { seat, stone }) {
        if (match.use(fog).thing(stone) === undefined) return
        match.use(fog).remove(stone)
        match.own.pockets.of(seat).stones += 1
      },
    },
  },
  amend: {
    /** A crew rings twice as fast with its keeper at the bell. */
    'zones.rate'(match, { side: crew, amount }) {
      const isThere = match
        .use(teams)
        .crew(Number(crew))
        .some((seat) => match.use(zones).isIn(seat, BELL) && match.use(keepers).of(seat) === 'keeper')
      if (isThere) amount.times(2)
    },
  },
  on: {
    'vitals.wounded'(match, { target, by }) {
      if (by === undefined) return
      match.use(tally).count(by, 'hits')
      match.emit('struck', { seat: target, by })
    },
    // Another keeper may stand at the bell already.
    'roles.assigned': (match) => match.use(zones).weighAgain(),
    'vitals.down'(match, { seat, by }) {
      const { unmasked } = match.own
      const crew = match.use(teams).of(seat)
      if (match.use(keepers).of(seat) !== 'keeper' || unmasked.crews.has(crew)) return
      unmasked.crews = new Set([...unmasked.crews, crew])
      match.use(keepers).reveal(seat)
      match.emit('unmasked', { seat })
      if (by !== undefined && match.use(teams).foes(seat, by))
        match.use(zones).giveTime(by, BELL, seconds(10))
    },
    'credit.streak'(match, { seat, streak }) {
      match.use(tally).count(seat, 'best streak', streak)
      if (streak % 3 !== 0) return
      match.use(fog).reveal(seat, seconds(10))
      match.emit('lit', { seat })
    },
    // Level at the end: the next full second of ringing decides.
    'rounds.overtime-began'(match) {
      const rung = Math.max(...match.seats.map((seat) => match.use(zones).heldBy(seat)))
      match.use(zones).setGoal((Math.floor(rung / 1000) + 1) * 1000)
    },
    'rounds.began'(match) {
      for (const stone of match.use(fog).things(STONE)) match.use(fog).remove(stone)
    },
  },
})
