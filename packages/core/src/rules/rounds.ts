import { everyone, flag, int, list, perSeat, type Seat, seatRef, single, text, time } from '../cells/index.ts'
import { declareRule, type MatchOf, refuse } from '../rule/index.ts'
import { fields, oneOf, orNull, setting, whole, yesNo } from '../settings/index.ts'
import { evenOut, inPhase } from './gates.ts'
import { phases } from './phases/phases.ts'
import { roster } from './roster/roster.ts'

const shape = declareRule({
  name: 'rounds',
  needs: [phases, roster],
  settings: fields({
    /** Length of a round, in ms of play time; null means no time limit. */
    length: setting(orNull(whole({ min: 1 })), null),
    /** Number of rounds in a bout. */
    count: setting(whole({ min: 1, max: 500 }), 1),
    /** If true, the bout ends as soon as nobody can catch up with whoever has won most rounds. */
    bestOf: setting(yesNo, false),
    /** Time between two rounds, in ms. */
    breakTime: setting(whole({ min: 0 }), 0),
    /**
     * Length of an overtime after a tied round, in ms; null means none. With `suddenEnd`: the longest that it goes
     * on.
     */
    overtime: setting(orNull(whole({ min: 1 })), null),
    /** How many overtimes there can be before the round is drawn. */
    overtimes: setting(whole({ min: 1 }), 1),
    /** Who plays on in overtime: everyone, or only the sides that are tied. */
    overtimeFor: setting(oneOf('all', 'tied'), 'all'),
    /** How many extra rounds there can be, one after another, while the bout is tied after the last round. */
    deciders: setting(whole({ min: 0, max: 99 }), 0),
    /** When teams change ends: after each round, or once at half-time. */
    swapEnds: setting(oneOf('never', 'each', 'half'), 'never'),
    /** If true, a tied round goes on until one side leads. */
    suddenEnd: setting(yesNo, false),
  }),
  state: {
    now: single({
      round: int(0).seenBy(everyone),
      /** The end of the round or the overtime, on the play clock. */
      ends: time().seenBy(everyone),
      /** The number of the overtime; 0 before any. */
      overtime: int(0).seenBy(everyone),
      /** True if it goes on until one side leads. */
      sudden: flag(false).seenBy(everyone),
      /** True if teams play from each other's ends. */
      swapped: flag(false).seenBy(everyone),
      open: flag(false),
      /** Seats that sit out an overtime. */
      aside: list(seatRef(), []),
    }),
    /** What must be judged when the step settles: time is up, and whether that is final. */
    pending: single({ timeUp: flag(false), final: flag(false) }),
    wishes: perSeat({ rematch: flag(false).seenBy(everyone) }),
  },
  events: {
    /** A round has begun. */
    began: { round: int().seenBy(everyone) },
    /** The round ends this many ms later. */
    extended: { by: int().seenBy(everyone) },
    /** A tied round goes into overtime. */
    'overtime-began': { overtime: int().seenBy(everyone) },
    /** The round does not count, and is played again. */
    'called-off': { round: int().seenBy(everyone), why: text().seenBy(everyone) },
    /** A round has ended. */
    ended: {
      round: int().seenBy(everyone),
      why: text().seenBy(everyone),
      /** Empty if it is drawn. */
      winners: list(seatRef(), []).seenBy(everyone),
    },
  },
  timers: ['end', 'next'],
})
type Match = MatchOf<typeof shape>

function runUntil(match: Match, ms: number | null) {
  match.own.now.ends = ms === null ? undefined : match.time.play + ms
  if (ms !== null) match.timers.start('end', { in: ms })
}

function hasSwapped(match: Match, round: number): boolean {
  const { swapEnds, count } = match.settings
  if (swapEnds === 'each') return round % 2 === 0
  return swapEnds === 'half' && round > Math.floor(count / 2)
}

function begin(match: Match) {
  match.beginSpan('round')
  const { now } = match.own
  now.round += 1
  now.overtime = 0
  now.sudden = false
  now.open = true
  now.swapped = hasSwapped(match, now.round)
  runUntil(match, match.settings.length)
  match.emit('began', { round: now.round })
  match.use(roster).beginRound()
}

/** A tied round goes on if there is overtime left for it. `isJudged`: a condition has found these seats tied. */
function prolong(match: Match, isJudged: boolean, tied: readonly Seat[]): boolean {
  const { now, pending } = match.own
  const { overtime, overtimes, suddenEnd } = match.settings
  const goesOn = suddenEnd ? !now.sudden : overtime !== null && now.overtime < overtimes
  // Without this, a round whose conditions have no opinion would never end.
  if (!goesOn || pending.final || (!isJudged && overtime === null)) return false
  pending.timeUp = false
  now.overtime += 1
  now.sudden = suddenEnd
  runUntil(match, overtime)
  match.emit('overtime-began', { overtime: now.overtime })
  if (match.settings.overtimeFor === 'tied') sitOut(match, tied)
  return true
}

/** Everyone but these watches until the round is over. */
function sitOut(match: Match, tied: readonly Seat[]) {
  const others = match
    .use(roster)
    .inPlay()
    .filter((seat) => !tied.includes(seat))
  for (const seat of others) match.use(roster).sideline(seat, 'not-tied')
  match.own.now.aside = [...match.own.now.aside, ...others]
}

function close(match: Match, winners: readonly Seat[], why: string) {
  const { now, pending } = match.own
  if (!now.open) return
  now.open = false
  now.ends = undefined
  pending.timeUp = false
  pending.final = false
  match.timers.cancel('end')
  match.emit('ended', { round: now.round, why, winners: [...winners] })
  const { aside } = now
  if (aside.length > 0) now.aside = []
  for (const seat of aside) match.use(roster).bringIn(seat)
}

/** The round is as if it had not been played, and the next one has its number. */
function callOff(match: Match, why: string) {
  match.emit('called-off', { round: match.own.now.round, why })
  close(match, [], why)
  match.own.now.round -= 1
  goOn(match)
}

/** Begins the next round, after the break or in the next step. */
function goOn(match: Match) {
  const { breakTime } = match.settings
  if (breakTime > 0) match.use(phases).rest(breakTime, 'round-over')
  else match.timers.start('next', { in: 0 })
}

/** Refuses unless a round is being played. */
function notPlayed(match: Match) {
  const phase = match.use(phases).phase()
  if (phase === 'lobby' || phase === 'countdown') return refuse('not-started')
  return match.own.now.open && phase === 'live' ? undefined : refuse('round-over')
}

function timeIsUp(match: Match, final: boolean) {
  match.own.pending.timeUp = true
  match.own.pending.final = final
}

/** Timed rounds with breaks, overtime and sudden end, and votes for a rematch. */
export const rounds = shape.does({
  refusals: {
    'not-over': 'The bout is not over yet. Wait for its verdict, or abandon it.',
    'round-over': 'The round has ended; it is never opened again. Ask for a rematch.',
  },
  actions: {
    /** Asks for a rematch. The next bout begins when everyone present has asked; bots go along. */
    rematch: {
      when: [inPhase('over'), evenOut],
      input: {},
      decide(match, seat) {
        if (match.use(roster).here().length < match.seatLimits.min)
          return refuse('too-few', { needed: match.seatLimits.min })
        match.own.wishes.of(seat).rematch = true
      },
    },
  },
  directives: {
    /** Moves the end by this many ms, earlier if negative. An end in the past ends the round at once. */
    extend: {
      input: { by: int() },
      handle(match, { by }) {
        const phase = match.use(phases).phase()
        if (phase === 'over' || phase === 'break') return refuse('round-over')
        if (!match.timers.runs('end')) return refuse('not-started')
        match.own.now.ends = match.timers.postpone('end', by)
        match.emit('extended', { by })
      },
    },
    /** Begins the next bout once this one is over, whoever has asked for it. */
    again: {
      input: {},
      handle(match) {
        if (match.use(phases).phase() !== 'over') return refuse('not-over')
        if (match.use(roster).here().length < match.seatLimits.min)
          return refuse('too-few', { needed: match.seatLimits.min })
        return match.use(phases).again('ordered')
      },
    },
    /** Ends the round now. It is judged as if time were up, but a tied one is drawn. */
    close: {
      input: {},
      handle: (match) => notPlayed(match) ?? timeIsUp(match, true),
    },
    /** Calls the round off: it does not count, its points are taken back, and it is played again after the break. */
    replay: {
      input: { why: text('replayed') },
      handle: (match, { why }) => notPlayed(match) ?? callOff(match, why),
    },
  },
  timers: {
    end: { band: 'outer', fire: (match) => timeIsUp(match, false) },
    next: { band: 'outer', fire: (match) => begin(match) },
  },
  on: { 'phases.live-began': (match) => begin(match), 'phases.break-over': (match) => begin(match) },
  settle: {
    tier: 'round',
    wokenBy: ['wishes', 'pending', 'roster.seats'],
    run(match) {
      // The round is over even if no verdict has judged it.
      if (match.own.pending.timeUp && match.use(phases).phase() === 'live') {
        close(match, [], 'time-up')
        if (match.own.now.round < match.settings.count) goOn(match)
      }
      const here = match.use(roster).here()
      const wishes = (seat: Seat): boolean => match.own.wishes.of(seat).rematch
      const all =
        here.length >= match.seatLimits.min &&
        here.some(wishes) &&
        here.every((seat) => wishes(seat) || match.use(roster).isBot(seat))
      if (all && match.use(phases).phase() === 'over') match.use(phases).again('rematch')
    },
  },
  calls: {
    /** Returns the number of the round, from 1. It is 0 before the first one. */
    round: (match): number => match.own.now.round,
    /** True while a round is played. */
    isOpen: (match): boolean => match.own.now.open,
    /** True if the round's time is over. */
    isTimeUp: (match): boolean => match.own.pending.timeUp,
    /** True if the round goes on until one side leads. */
    isSudden: (match): boolean => match.own.now.sudden,
    /** True if a tied round goes on until one side leads. */
    endsSuddenly: (match): boolean => match.settings.suddenEnd,
    /** True if the bout ends as soon as nobody can catch up. */
    bestOf: (match): boolean => match.settings.bestOf,
    /** Returns the end that a team plays from: its own number, or that of the team opposite while ends are swapped. */
    endOf: (match, team: number, teams: number): number => (match.own.now.swapped ? teams - 1 - team : team),
    /** Returns how many rounds of the bout are still to come. */
    left: (match): number => Math.max(0, match.settings.count - match.own.now.round),
    /** Ends the round as if time were up, but a tied one is drawn. */
    endNow(match) {
      if (match.own.now.open) timeIsUp(match, true)
    },
    /** Lets a round in which these seats are tied go on, and returns true if it does. */
    prolong: (match, isJudged: boolean, tied: readonly Seat[]): boolean => prolong(match, isJudged, tied),
    /** True if a bout that is tied gets another round. */
    hasDecider: (match): boolean => match.own.now.round < match.settings.count + match.settings.deciders,
    /** Ends the round now. */
    close: (match, winners: readonly Seat[], why: string) => close(match, winners, why),
    /** Begins the next round, after the break. */
    goOn: (match) => goOn(match),
  },
})
