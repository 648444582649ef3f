import { int, rowOf, type Seat, seatRef } from '../../cells/index.ts'
import { RefereeError } from '../../kit/index.ts'
import { refuse } from '../../rule/index.ts'
import { phases } from '../phases/phases.ts'
import { whenOutOfPlay } from '../play.ts'
import { roster } from '../roster/roster.ts'
import { scores } from '../scores.ts'
import { vitals } from '../vitals/vitals.ts'
import { type Errand, type ErrandAsked, type Match, shape } from './shape.ts'
import { begin, fill, isOpen, spawn, welcome } from './spawning.ts'

/** Fifths are rounded down, so that the last one is full only when everything is done. */
function show(match: Match, isBreak = false) {
  const { total } = match.own
  const of = isAllDone(match) ? total.of : total.of + total.hidden
  // A shared errand that does not count may be left over, or its progress undone.
  const done = Math.max(0, Math.min(total.done, of))
  const { shown } = match.settings
  const fifths = shown === 'fifths'
  match.own.shown.of = fifths ? 5 : of
  if (shown !== 'in-breaks' || isBreak)
    match.own.shown.done = fifths && of > 0 ? Math.floor((5 * done) / of) : done
}

function reckon(match: Match) {
  show(match)
  if (!isAllDone(match) || match.own.total.told) return
  match.own.total.told = true
  match.emit('all-done', {})
}

const isAllDone = (match: Match): boolean =>
  !match.settings.again && match.own.total.of > 0 && match.own.total.done >= match.own.total.of

function close(match: Match, row: Errand) {
  row.closedAt = match.time.play
  match.timers.cancel('expire', row.id)
}

function finish(match: Match, seat: Seat, row: Errand) {
  close(match, row)
  match.own.tally.of(seat).done += 1
  match.emit('done', { seat, kind: row.kind, real: row.real })
  if (row.real) match.use(scores)?.give({ seat, amount: match.settings.points, reason: row.kind })
}

/**
 * An errand goes when its seat goes. What was done and what was left of it leave the total. If some errands don't
 * count, what was done stays and what was left is hidden, so that the total does not show that the errand was real.
 */
function drop(match: Match, row: Errand) {
  const { total } = match.own
  if (row.real && match.config.uncounted === undefined) {
    total.of -= row.need
    total.done -= row.done
  } else if (row.real) {
    total.of -= row.need - row.done
    total.hidden += row.need - row.done
  }
  match.timers.cancel('expire', row.id)
  match.own.rows.remove(row.id)
}

/**
 * To whoever has fewest left, the lowest seat if tied, among those whose errands are real; from then on it is real
 * too. The total stays: if an uncounted errand is shared out, as much as was done need not be done in the end.
 */
function share(match: Match, row: Errand, heirs: readonly Seat[]) {
  const left = (seat: Seat): number => match.own.rows.where({ to: seat }).filter(isOpen).length
  const fewest = Math.min(...heirs.map(left))
  const heir = heirs.find((seat) => left(seat) === fewest)
  if (heir === undefined) return drop(match, row)
  row.to = heir
  row.real = true
}

function leave(match: Match, seat: Seat) {
  const { leaverErrands } = match.settings
  const heirs = match
    .use(roster)
    .inPlay()
    .filter((each) => match.own.rows.where({ to: each }).some(({ real }) => real))
  for (const row of match.own.rows.where({ to: seat }).filter(isOpen)) {
    if (leaverErrands === 'share') share(match, row, heirs)
    else if (leaverErrands === 'drop') drop(match, row)
  }
  reckon(match)
}

function enter(match: Match, { seat }: { readonly seat: Seat }) {
  if (match.use(phases).phase() !== 'live' || !match.use(roster).isInPlay(seat)) return
  welcome(match, seat)
  show(match)
}

/** Goals that come from a list, for everyone or for each seat, and are counted together. */
export const errands = shape.does({
  refusals: {
    'errand-done': 'This is done already. Choose another errand.',
    'errand-expired': 'The time for this is over. Choose another errand.',
  },
  discloses: ['need', 'done', 'closedAt'].map((cell) => ({
    secret: `errands.rows.${cell}`,
    by: ['errands.done', 'phases.changed'],
    to: 'everyone',
    why: 'how much is done in all is shown, and in breaks at the latest',
  })),
  /** Everyone sees progress on a shared errand, so a seat whose errands don't count can make none. */
  setUp(match) {
    if (match.config.uncounted !== undefined && match.settings.each === null)
      throw new RefereeError('ZR_SETTING_INVALID', {
        rule: 'errands',
        issues: ["'uncounted' needs errands that are a seat's own: set 'each' to how many"],
      })
  },
  apply: {
    progress(match, { seat, errand, amount }) {
      const row = match.own.rows.get(errand)
      if (row === undefined || (row.to !== undefined && row.to !== seat))
        return refuse('no-such-target', { errand })
      if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
      if (match.use(vitals)?.isUp(seat) === false) return refuse('down', { seat })
      if (row.done === row.need) return refuse('errand-done', { errand })
      if (row.closedAt !== undefined) return refuse('errand-expired', { errand })
      const before = row.done
      row.done = Math.min(row.need, Math.max(0, before + amount))
      if (row.real && !match.settings.again) match.own.total.done += row.done - before
      if (row.done === row.need) finish(match, seat, row)
      reckon(match)
      return undefined
    },
  },
  facts: {
    /** Reports that a seat has done this much of an errand. */
    progress: {
      input: { seat: seatRef(), errand: rowOf('rows'), amount: int(1) },
      handle: (match, given) => match.resolve('progress', given),
    },
  },
  timers: {
    expire: {
      band: 'inner',
      keyedBy: 'row',
      fire(match, id) {
        const row = match.own.rows.get(id)
        if (row === undefined || !isOpen(row)) return
        close(match, row)
        match.emit('expired', { kind: row.kind, place: row.place })
      },
    },
  },
  on: {
    'phases.live-began'(match) {
      begin(match)
      show(match, true)
    },
    'phases.changed'(match, { to }) {
      if (to === 'break') show(match, true)
    },
    'roster.joined': enter,
    'roster.back-in': enter,
    ...whenOutOfPlay(leave),
  },
  settle: {
    tier: 'upkeep',
    wokenBy: ['rows'],
    run(match) {
      if (match.use(phases).phase() === 'live') fill(match)
    },
  },
  calls: {
    /** Opens an errand besides those of the list, and returns its id. There is that much more to do in all. */
    spawn(match, asked: ErrandAsked): string {
      const id = spawn(match, asked)
      show(match)
      return id
    },
    /** True if the whole list is used up and every real errand is done. Always false if there are none. */
    allDone: isAllDone,
    /** Returns the ids of the errands that can be done now: everyone's, or a seat's own. */
    open: (match, seat?: Seat): readonly string[] =>
      match.own.rows.where({ to: seat }).flatMap((row) => (isOpen(row) ? [row.id] : [])),
    /** Returns what an errand is about, or nothing if there is none with that id. */
    errand(
      match,
      id: string,
    ): { readonly kind: string; readonly place: string; readonly left: number } | undefined {
      const row = match.own.rows.get(id)
      return row && { kind: row.kind, place: row.place, left: row.need - row.done }
    },
    /** Returns how many errands a seat has finished. */
    doneBy: (match, seat: Seat): number => match.own.tally.of(seat).done,
  },
})
