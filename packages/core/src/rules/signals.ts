import {
  choice,
  everyone,
  flag,
  int,
  list,
  owner,
  perSeat,
  type Seat,
  type Sight,
  seatRef,
  side,
} from '../cells/index.ts'
import { assertOptions } from '../kit/index.ts'
import { declareRule, type MatchOf, refuse } from '../rule/index.ts'
import { fields, setting, whole } from '../settings/index.ts'
import { seconds } from '../time/index.ts'
import { evenOut, inPhase } from './gates.ts'
import { phases } from './phases/phases.ts'
import { roster } from './roster/roster.ts'

/** A signal, and who is notified of it. */
export interface SignalKind {
  /** Everyone, or `side`: its sender and those on its side. Default: everyone. */
  readonly seenBy?: Sight<'everyone'> | typeof side
}
type Kinds<K extends string> = { readonly [N in K]: SignalKind }

const ruleOf = <K extends string>(kinds: Kinds<K>) => {
  for (const [kind, given] of Object.entries<SignalKind>(kinds))
    assertOptions(`signal '${kind}'`, given, ['seenBy'])
  const kind = choice(...(Object.keys(kinds) as K[]))
  return declareRule({
    name: 'signals',
    needs: [roster, phases],
    settings: fields({
      /** How many signals a seat may send within `within`. */
      maxSignals: setting(whole({ min: 1, max: 50 }), 5),
      /** The time that `maxSignals` counts for, in ms of match time. */
      within: setting(whole({ min: 1 }), seconds(10)),
    }),
    state: {
      /** `sent`: when the seat sent its last signals, in match time. */
      seats: perSeat({ muted: flag(false).seenBy(owner), sent: list(int(), []).seenBy(owner) }).each('match'),
    },
    events: {
      /** A signal for everyone. */
      sent: { seat: seatRef().seenBy(everyone), signal: kind.seenBy(everyone) },
      /** A signal for the sender's side. */
      called: { seat: seatRef().seenBy(side), signal: kind.seenBy(side) },
    },
    notices: { sent: { lasts: seconds(4), later: false }, called: { lasts: seconds(4), later: false } },
  })
}
type Match<K extends string> = MatchOf<ReturnType<typeof ruleOf<K>>>

function send<K extends string>(match: Match<K>, seat: Seat, signal: K, isForSide: boolean) {
  const { maxSignals, within } = match.settings
  const own = match.own.seats.of(seat)
  if (own.muted) return refuse('muted')
  const now = match.time.match
  const recent = own.sent.filter((at) => at > now - within)
  const [oldest = 0] = recent.slice(-maxSignals)
  if (recent.length >= maxSignals) return refuse('too-many-signals', { next: oldest + within })
  own.sent = [...recent, now]
  return match.emit(isForSide ? 'called' : 'sent', { seat, signal })
}

/** Quick signals from a fixed list, to everyone or to one's side: `signalsOf({ hello: {}, help: { seenBy: side } })`. */
export const signalsOf = <const K extends string>(kinds: Kinds<K>) =>
  ruleOf(kinds).does({
    refusals: {
      muted: 'Your signals are muted. Ask the referee.',
      'too-many-signals': 'You have sent too many signals. Wait a moment.',
    },
    actions: {
      /** Sends a signal. */
      send: {
        when: [inPhase('lobby', 'countdown', 'live', 'break', 'over'), evenOut],
        input: { signal: choice(...(Object.keys(kinds) as K[])) },
        decide: (match, seat, { signal }) => send(match, seat, signal, kinds[signal].seenBy === side),
      },
    },
    directives: {
      /** Mutes a seat, or with `muted: false` lets it send signals again. */
      mute: {
        input: { seat: seatRef(), muted: flag(true) },
        handle(match, { seat, muted }) {
          match.own.seats.of(seat).muted = muted
        },
      },
    },
    calls: {
      /** True if the seat's signals are muted. */
      isMuted: (match, seat: Seat): boolean => match.own.seats.of(seat).muted,
    },
  })
