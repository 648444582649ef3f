import { everyone, flag, int, list, rowOf, type Seat, seatRef, table, text, time } from '../cells/index.ts'
import { declareRule, type Gate, gate, type MatchOf, refuse } from '../rule/index.ts'
import { fields, oneOf, setting, whole, yesNo } from '../settings/index.ts'
import { phases } from './phases/phases.ts'
import { whenOutOfPlay } from './play.ts'
import { roster } from './roster/roster.ts'
import { rounds } from './rounds.ts'
import { WINDOW } from './turns/shape.ts'
import { turns } from './turns/turns.ts'

/**
 * As an action's `when`: allowed while a window of that kind is open and the seat is asked. Once accepted, the seat
 * has answered.
 */
export const reaction = (kind: string): Gate => gate({ name: 'reactions' }, 'window', kind)

/** What a window is opened for. */
export interface WindowAsked {
  /** Which actions may answer it: those with `when: reaction(kind)`. */
  readonly kind: string
  /** The seat whose action is reacted to. */
  readonly opener: Seat
  /** Which seats are asked. Default: all others in play, in turn order from the opener on. */
  readonly asked?: readonly Seat[]
}

const shape = declareRule({
  name: 'reactions',
  needs: [roster, phases, turns],
  knows: [rounds],
  settings: fields({
    /** Time to react, in ms of play time: for each seat in turn, or for all at once. */
    time: setting(whole({ min: 1 }), 5000),
    /** Whether seats answer one after another, or the first to answer counts. */
    answers: setting(oneOf('in-turn', 'first-come'), 'in-turn'),
    /**
     * If true, seats that could do nothing are asked too. If false, the time that a window lasts tells who could
     * react.
     */
    openIdle: setting(yesNo, true),
    /** How many windows may be open inside each other. */
    depth: setting(whole({ min: 1 }), 8),
    /** Extra time on the turn clock after the last window closes, in ms. */
    graceAfterWindow: setting(whole({ min: 0 }), 0),
  }),
  state: {
    windows: table({
      /** From 1. The deepest window is asked; the ones around it wait. */
      depth: int().seenBy(everyone),
      kind: text().seenBy(everyone),
      opener: seatRef().seenBy(everyone),
      /** The seats that have not answered yet. In turn, the first of them is asked. */
      asked: list(seatRef(), []).seenBy(everyone),
      reacted: list(seatRef(), []).seenBy(everyone),
      /** On the play clock; nothing while another window is open inside this one. */
      ends: time().seenBy(everyone),
      /** Time left when it is asked again, in ms. */
      left: int(0),
      finished: flag(false),
    }),
  },
  events: {
    /** Others may react from now on. */
    opened: {
      window: rowOf('windows').seenBy(everyone),
      kind: text().seenBy(everyone),
      opener: seatRef().seenBy(everyone),
      asked: list(seatRef()).seenBy(everyone),
    },
    /** A seat declined: by itself, because its time was up, or because it left. */
    declined: { seat: seatRef().seenBy(everyone), window: rowOf('windows') },
    /** The window has closed. Do now what depended on it, unless a reaction prevented it. */
    closed: {
      window: rowOf('windows').seenBy(everyone),
      kind: text().seenBy(everyone),
      opener: seatRef().seenBy(everyone),
      reacted: list(seatRef()).seenBy(everyone),
    },
  },
  timers: ['answer'],
})
type Match = MatchOf<typeof shape>
type Window = ReturnType<Match['own']['windows']['all']>[number]

const newest = (match: Match): Window | undefined => match.own.windows.all().at(-1)

/** Stops its time where it is. */
function stop(match: Match, window: Window) {
  window.left = match.timers.left('answer', window.id)
  window.ends = undefined
  match.timers.cancel('answer', window.id)
}

function open(match: Match, { kind, opener, asked = match.use(turns).others(opener) }: WindowAsked) {
  const { windows } = match.own
  const depth = windows.all().length + 1
  if (depth > match.settings.depth) return refuse('too-deep')
  const outer = newest(match)
  if (outer !== undefined && match.timers.runs('answer', outer.id)) stop(match, outer)
  const those = asked.filter((seat) => seat !== opener && match.use(roster).isInPlay(seat))
  const window = windows.add({ depth, kind, opener, asked: those, left: match.settings.time })
  match.use(turns).hold(WINDOW)
  match.emit('opened', { window: window.id, kind, opener, asked: those })
  return undefined
}

/** The seat is no longer awaited. In turn, the next one gets the whole time. */
function answered(match: Match, window: Window, seat: Seat) {
  const wasAsked = window.asked[0] === seat
  window.asked = window.asked.filter((each) => each !== seat)
  if (match.settings.answers !== 'in-turn' || !wasAsked) return
  match.timers.cancel('answer', window.id)
  window.left = match.settings.time
}

function declined(match: Match, window: Window, seat: Seat) {
  answered(match, window, seat)
  match.emit('declined', { seat, window: window.id })
}

const isAsked = (match: Match, { asked }: Window, seat: Seat): boolean =>
  match.settings.answers === 'in-turn' ? asked[0] === seat : asked.includes(seat)

/** Skips a seat that could do nothing, if that need not be hidden. */
function idle(match: Match, { asked, kind }: Window): Seat | undefined {
  if (match.settings.openIdle) return undefined
  const first = match.settings.answers === 'in-turn' ? asked.slice(0, 1) : asked
  return first.find((seat) => !match.canAct(seat, reaction(kind)))
}

function close(match: Match, { id, kind, opener, reacted }: Window) {
  match.timers.cancel('answer', id)
  match.own.windows.remove(id)
  match.emit('closed', { window: id, kind, opener, reacted })
}

/** One move at a time, so that what depends on a window is done before the one around it is asked again. */
function goOn(match: Match, window: Window) {
  if (window.finished || window.asked.length === 0) return close(match, window)
  const nobody = idle(match, window)
  if (nobody !== undefined) return answered(match, window, nobody)
  if (match.timers.runs('answer', window.id)) return undefined
  match.timers.start('answer', { key: window.id, in: window.left })
  window.ends = match.time.play + window.left
  return undefined
}

/** The window that it opened closes as if everyone had declined, with all inside it. In others it counts as declined. */
function withdraw(match: Match, seat: Seat) {
  const windows = match.own.windows.all()
  const own = windows.findIndex(({ opener }) => opener === seat)
  for (const [at, window] of windows.entries()) {
    if (own !== -1 && at >= own) Object.assign(window, { asked: [], reacted: [] })
    else if (window.asked.includes(seat)) declined(match, window, seat)
  }
}

/** All of them are over: what depends on them is done as if everyone had declined, or not at all. */
function closeAll(match: Match, isDone: boolean) {
  for (const window of match.own.windows.all().toReversed()) {
    window.reacted = []
    if (isDone) close(match, window)
    else {
      match.timers.cancel('answer', window.id)
      match.own.windows.remove(window.id)
    }
  }
  match.use(turns).goOn(WINDOW)
}

/**
 * Windows in the middle of a turn, in which others may react before something is done. A reaction can open a window
 * of its own: the newest is answered and closed first. Turns wait while one is open.
 */
export const reactions = shape.does({
  refusals: {
    'too-deep': 'Too many windows are open within each other. Wait until one has closed.',
    'not-asked': 'This is not asked of your seat. Wait until it is.',
  },
  gates: {
    window: {
      place: 'turn',
      check(match, { seat = '', given: [kind] }) {
        const window = newest(match)
        if (window === undefined || window.kind !== kind) return refuse('not-now')
        return isAsked(match, window, seat) ? undefined : refuse('not-asked')
      },
      accepted(match, { seat = '', given: [kind] }) {
        // The reaction may have opened a window that its seat is not asked in, or closed this one.
        const window = match.own.windows
          .all()
          .findLast((each) => each.kind === kind && isAsked(match, each, seat))
        if (window === undefined) return
        answered(match, window, seat)
        window.reacted = [...window.reacted, seat]
      },
    },
  },
  actions: {
    /** Declines the window that the seat was shown, but not one that was opened inside it since. */
    decline: {
      offered: true,
      input: { window: rowOf('windows') },
      options: (match) => match.own.windows.all().map(({ id }) => ({ window: id })),
      decide(match, seat, { window: id }) {
        const window = newest(match)
        if (window?.id !== id) return refuse('not-now')
        return isAsked(match, window, seat) ? declined(match, window, seat) : refuse('not-asked')
      },
    },
  },
  timers: {
    answer: {
      clock: 'play',
      band: 'inner',
      keyedBy: 'row',
      fire(match, id) {
        const window = match.own.windows.get(id)
        const late = match.settings.answers === 'in-turn' ? window?.asked.slice(0, 1) : window?.asked
        for (const seat of late ?? []) if (window !== undefined) declined(match, window, seat)
      },
    },
  },
  on: {
    ...whenOutOfPlay(withdraw),
    'rounds.began': (match) => closeAll(match, true),
    'phases.changed'(match, { to }) {
      if (to === 'break' || to === 'over') closeAll(match, to === 'break')
    },
  },
  settle: {
    tier: 'turn',
    wokenBy: ['windows'],
    run(match) {
      const window = newest(match)
      if (window !== undefined) return goOn(match, window)
      if (!match.use(turns).isHeld(WINDOW)) return
      match.use(turns).goOn(WINDOW)
      match.use(turns).addTime(match.settings.graceAfterWindow)
    },
  },
  calls: {
    /**
     * Opens a window: holds turns and asks who may react. Refuses if too many are open inside each other. Do what
     * depends on it at `closed`.
     */
    open,
    /** Closes the window now. A reaction may end the window it reacts to, so that nobody else reacts. */
    finish(match) {
      const window = newest(match)
      if (window !== undefined) window.finished = true
    },
    /** True while a window is open. */
    isOpen: (match): boolean => newest(match) !== undefined,
  },
})
