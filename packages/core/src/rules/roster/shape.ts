import {
  choice,
  everyone,
  flag,
  int,
  owner,
  perSeat,
  seatRef,
  set,
  single,
  table,
  text,
} from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, oneOf, orNull, setting, whole, word, yesNo } from '../../settings/index.ts'
import { seconds } from '../../time/index.ts'

export const shape = declareRule({
  name: 'roster',
  settings: fields({
    /** What a player who gives no name is called, with a number: `Guest` for Guest 1 and so on. Default: a name is needed. */
    nameless: setting(orNull(word), null),
    /** How long an absent seat is kept before it leaves, in ms. */
    grace: setting(whole({ min: 0 }), seconds(60)),
    /** What a player gets who comes back in the same bout: the same seat with all that it had, a new seat, or neither. */
    comeback: setting(oneOf('same-seat', 'new-seat', 'no'), 'same-seat'),
    /** What a player gets who joins a match without a free seat: a refusal, or a place among those who watch. */
    whenFull: setting(oneOf('refuse', 'watch'), 'refuse'),
    /** How long a player who was sent off can't come back. */
    barFor: setting(oneOf('match', 'bout', 'none'), 'match'),
    /**
     * What a player gets who joins during play: a seat in play, a seat that watches until the next round or until the
     * next bout, or a refusal.
     */
    lateJoin: setting(oneOf('seat', 'next-round', 'watch', 'refuse'), 'seat'),
    /** How long after a round has begun a player can still join as if before it, in ms of play time. */
    lateWindow: setting(whole({ min: 0 }), 0),
    /** If true, a bot takes over the seat of a player who leaves during play, until the player joins again. */
    botsFill: setting(yesNo, false),
    /** If true, a bot plays for an absent seat during play, until it is back or its grace is over. */
    botsCover: setting(yesNo, false),
    /** What happens to ready marks when a setting changes. */
    readyAfterChange: setting(oneOf('clear', 'keep'), 'clear'),
  }),
  state: {
    seats: perSeat({
      number: int(0).seenBy(everyone),
      name: text('').seenBy(everyone),
      player: text(''),
      /** Whose seat a bot has taken over. */
      former: text(''),
      presence: choice('here', 'absent', 'left').seenBy(everyone),
      ready: flag(false).seenBy(everyone),
      bot: flag(false).seenBy(everyone),
      /** A bot plays for it only while it is absent. */
      covered: flag(false).seenBy(everyone),
      /** Eliminated in this bout: still seated, no longer in play. */
      sidelined: flag(false).seenBy(everyone),
      /** It has joined late, and is in play from the next round on. */
      waits: flag(false),
    }).each('match'),
    /** Players who watch and have no seat. */
    watchers: table({ name: text().seenBy(everyone), player: text() }).each('match'),
    /** `live`: the round is being played; `began`: since when, on the play clock. */
    now: single({ playing: flag(false), live: flag(false), began: int(0), barred: set(text()) }).each(
      'match',
    ),
  },
  events: {
    /** Somebody has taken a seat. */
    joined: { seat: seatRef().seenBy(everyone) },
    /** A player has taken over a bot's seat. */
    'handed-over': { seat: seatRef().seenBy(everyone) },
    /** A player watches from now on. */
    watching: { name: text().seenBy(everyone), player: text() },
    /** A seat is no longer ready. */
    unready: { seat: seatRef() },
    /** A bot has taken over the seat of a player who left. */
    filled: { seat: seatRef().seenBy(everyone) },
    /** A player who had left is in their seat again. */
    'came-back': { seat: seatRef().seenBy(everyone) },
    /** Tells the seat that was sent off why. */
    kicked: { seat: seatRef().seenBy(owner), why: text().seenBy(owner) },
    /** A seat that was absent is here again. */
    returned: { seat: seatRef().seenBy(everyone) },
    /** A seat has lost its connection. */
    absent: { seat: seatRef().seenBy(everyone) },
    /** A bot plays for a seat that is absent: for the rules it is here. */
    covered: { seat: seatRef().seenBy(everyone) },
    /** A seat has left. `why` is left, kicked or grace-over. */
    left: { seat: seatRef().seenBy(everyone), why: text().seenBy(everyone) },
    /** A seat is out of play until the bout ends. */
    sidelined: { seat: seatRef().seenBy(everyone), why: text().seenBy(everyone) },
    /** A sidelined seat is in play again. */
    'back-in': { seat: seatRef().seenBy(everyone) },
  },
  drafts: {
    /** A player is about to take a seat. */
    join: { seat: text(), player: text(), name: text(), bot: flag() },
  },
  timers: ['grace'],
})
export type Match = MatchOf<typeof shape>
