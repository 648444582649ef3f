import {
  amount,
  bySetting,
  choice,
  everyone,
  flag,
  int,
  list,
  maybe,
  perSeat,
  seatRef,
  single,
  table,
  text,
  time,
} from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, oneOf, orNull, setting, whole, yesNo } from '../../settings/index.ts'
import { seconds } from '../../time/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'

const seen = bySetting('healthSeen')

export const shape = declareRule({
  name: 'vitals',
  needs: [roster, phases],
  knows: [rounds],
  settings: fields({
    /** A seat's maximum health. */
    max: setting(whole({ min: 1 }), 100),
    /** Who sees how much health a seat has. */
    healthSeen: setting(oneOf('owner', 'side', 'near', 'everyone'), 'owner'),
    /** How much shield a seat has. The shield takes blows before health does. */
    shield: setting(whole({ min: 0 }), 0),
    /** How many thousandths armour absorbs of what passes the shield. */
    armour: setting(whole({ min: 0, max: 1000 }), 0),
    /** How long after the last wound the shield starts to regrow, in ms. */
    shieldDelay: setting(whole({ min: 0 }), seconds(5)),
    /** How much shield comes back every `shieldEvery`; 0 means never. */
    shieldRate: setting(whole({ min: 0 }), 0),
    /** Time between two of these, in ms. */
    shieldEvery: setting(whole({ min: 1 }), seconds(1)),
    /** How long after the last wound health starts to regrow, in ms. */
    regenDelay: setting(whole({ min: 0 }), seconds(5)),
    /** How much health comes back every `regenEvery`; 0 means never. */
    regenRate: setting(whole({ min: 0 }), 0),
    /** Time between two of these, in ms. */
    regenEvery: setting(whole({ min: 1 }), seconds(1)),
    /** Every `every` ms health loses `rate` thousandths of itself, but never falls below `least`. */
    decay: setting(
      orNull(
        fields({
          every: whole({ min: 1 }),
          rate: whole({ min: 1, max: 1000 }),
          least: setting(whole({ min: 1 }), 1),
        }),
      ),
      null,
    ),
    /** Whether a seat that is absent can be hurt. */
    absentBody: setting(oneOf('stays', 'safe'), 'stays'),
    /** If true, a seat goes down at 0. */
    downAt0: setting(yesNo, true),
    /** Whether a blow by a seat that is already down still lands, because it was struck before. */
    lateBlows: setting(oneOf('land', 'drop'), 'land'),
    /** If true, striking somebody else ends one's own protection. */
    strikingEnds: setting(yesNo, true),
    /** What protection stops: all blows, or only those of foes and not one's own or those of the surroundings. */
    protects: setting(oneOf('all', 'foes'), 'all'),
  }),
  state: {
    body: perSeat({
      health: int(0).seenBy(seen),
      max: int(0).seenBy(seen),
      shield: int(0).seenBy(seen),
      shieldMax: int(0).seenBy(seen),
      armour: int(0).seenBy(seen),
      down: flag(false).seenBy(everyone),
      /** When it went down, in match time. */
      downAt: time('match').seenBy(everyone),
      /** On the play clock; nothing once it is over. */
      protectedUntil: time().seenBy(everyone),
      /** Who struck last, and how: the cause if it goes down. */
      struckBy: maybe(seatRef()),
      struckHow: text(''),
    }).each('life'),
    /** Which life it is in, and when, in match time, and in which round that began. */
    lives: perSeat({ life: int(0).seenBy(everyone), began: time('match').seenBy(everyone), round: int(0) }),
    rounds: single({ begun: int(0) }),
    /** Damage over time: how many ticks are left, and what each takes. */
    afflictions: table({
      target: seatRef().seenBy(seen),
      kind: text().seenBy(seen),
      left: int().seenBy(seen),
      by: maybe(seatRef()),
      amount: int(),
    })
      .ownedBy('target')
      .indexedBy('target')
      .each('round'),
    /** What a step leaves for its settling, so that the blows of one volley are simultaneous. */
    step: single({ fallen: list(seatRef(), []), strikers: list(seatRef(), []) }).each('round'),
  },
  events: {
    /** A seat begins a life. */
    'life-began': { seat: seatRef(), life: int() },
    /**
     * The parts of a blow: what the shield took, what armour absorbed, what health lost, and what was more than
     * needed.
     */
    wounded: {
      target: seatRef(),
      by: maybe(seatRef()),
      kind: text(),
      shield: int(),
      armour: int(),
      health: int(),
      spilled: int(),
    },
    /** A blow had no effect. */
    blocked: { target: seatRef().seenBy(everyone), by: maybe(seatRef()).seenBy(everyone) },
    /** A seat has more health. */
    healed: { target: seatRef(), amount: int() },
    /** A seat has more shield. */
    recharged: { target: seatRef(), amount: int() },
    /** A seat that was down is up again in the same life. */
    raised: { seat: seatRef().seenBy(everyone) },
    /** A seat is hurt over time from now on. */
    afflicted: { target: seatRef(), by: maybe(seatRef()), kind: text(), ticks: int() },
    /** `together` are all who fell in the same step, in the order in which they reached 0. */
    down: { seat: seatRef(), by: maybe(seatRef()), cause: text(), together: list(seatRef()) },
  },
  drafts: {
    /** A blow at a seat. */
    hurt: {
      target: seatRef(),
      amount: amount().between(0, Number.MAX_SAFE_INTEGER),
      by: maybe(seatRef()),
      kind: text('blow'),
      /** What it passes. */
      through: maybe(choice('shield', 'armour', 'all')),
      /** It does not end the protection of the seat that struck, such as a recoil. */
      passive: flag(false),
    },
    /** Health for a seat. */
    heal: { target: seatRef(), amount: amount().between(0, Number.MAX_SAFE_INTEGER) },
    /** `amount` each `every` ms, `ticks` times. */
    afflict: {
      target: seatRef(),
      kind: text(),
      amount: amount().between(0, Number.MAX_SAFE_INTEGER),
      every: int(),
      ticks: int(),
      by: maybe(seatRef()),
    },
  },
  timers: ['protection', 'tick', 'regen', 'recharge', 'decay'],
})
export type Match = MatchOf<typeof shape>
