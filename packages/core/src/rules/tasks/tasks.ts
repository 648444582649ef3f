import { int, rowOf, type Seat, seatRef } from '../../cells/index.ts'
import { RefereeError } from '../../kit/index.ts'
import { refuse } from '../../rule/index.ts'
import { phases } from '../phases.ts'
import { roster } from '../roster/roster.ts'
import { scores } from '../scores.ts'
import { vitals } from '../vitals/vitals.ts'
import { type Match, shape, type Task } from './shape.ts'
import { begin, fill, isOpen } from './spawning.ts'

/** Fifths are rounded down, so that the last is full only when all is done. */
function show(match: Match, isBreak = false) {
  const { total } = match.own
  const of = isAllDone(match) ? total.of : total.of + total.hidden
  // A pretence that was shared out may be left over, or what was pretended of it undone.
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

function close(match: Match, row: Task) {
  row.closedAt = match.time.play
  match.timers.cancel('expire', row.id)
}

function finish(match: Match, seat: Seat, row: Task) {
  close(match, row)
  match.own.tally.of(seat).done += 1
  match.emit('done', { seat, kind: row.kind, real: row.real })
  if (row.real) match.use(scores)?.give({ seat, amount: match.settings.points, reason: row.kind })
}

/**
 * A task goes with who had it. What was done and is to be done of it leaves the total; where some only pretend, what was
 * done stays and what is to be done is hidden, so that the total does not show that the task was real.
 */
function drop(match: Match, row: Task) {
  const { total } = match.own
  if (row.real && match.config.pretend === undefined) {
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
 * To who has fewest left, the lowest seat of those that are level, of those whose tasks are real; so it is from then on.
 * The total stays: of a pretence that is shared out, as much as was pretended need not be done in the end.
 */
function share(match: Match, row: Task, heirs: readonly Seat[]) {
  const left = (seat: Seat): number => match.own.rows.where({ to: seat }).filter(isOpen).length
  const fewest = Math.min(...heirs.map(left))
  const heir = heirs.find((seat) => left(seat) === fewest)
  if (heir === undefined) return drop(match, row)
  row.to = heir
  row.real = true
}

function leave(match: Match, seat: Seat) {
  const { leaverTasks } = match.settings
  const heirs = match
    .use(roster)
    .inPlay()
    .filter((each) => match.own.rows.where({ to: each }).some(({ real }) => real))
  for (const row of match.own.rows.where({ to: seat }).filter(isOpen)) {
    if (leaverTasks === 'share') share(match, row, heirs)
    else if (leaverTasks === 'drop') drop(match, row)
  }
  reckon(match)
}

/** Goals that are spawned from a list, for everyone or for each seat, and counted together. */
export const tasks = shape.does({
  discloses: ['need', 'done', 'closedAt'].map((cell) => ({
    secret: `tasks.rows.${cell}`,
    by: ['tasks.done', 'phases.changed'],
    to: 'everyone',
    why: 'how much is done in all is shown, and in breaks at the latest',
  })),
  apply: {
    progress(match, { seat, task, amount }) {
      const row = match.own.rows.get(task)
      if (row === undefined || (row.to !== undefined && row.to !== seat))
        return refuse('no-such-target', { task })
      if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
      if (match.use(vitals)?.isUp(seat) === false) return refuse('down', { seat })
      if (row.done === row.need) return refuse('task-done', { task })
      if (row.closedAt !== undefined) return refuse('task-expired', { task })
      const before = row.done
      row.done = Math.min(row.need, Math.max(0, before + amount))
      if (row.real && !match.settings.again) match.own.total.done += row.done - before
      if (row.done === row.need) finish(match, seat, row)
      reckon(match)
      return undefined
    },
  },
  /** Progress of a task that is everyone's is seen by all, and whoever only pretends could make none. */
  setUp(match) {
    if (match.config.pretend !== undefined && match.settings.each === null)
      throw new RefereeError('ZR_SETTING_INVALID', {
        rule: 'tasks',
        issues: ["'pretend' needs tasks that are a seat's own: set 'each' to how many"],
      })
  },
  facts: {
    progress: {
      input: { seat: seatRef(), task: rowOf('rows'), amount: int(1) },
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
    'roster.left': (match, { seat }) => leave(match, seat),
    // Who is out does nothing more for anyone.
    'roster.out': (match, { seat }) => leave(match, seat),
  },
  settle: {
    tier: 'upkeep',
    wokenBy: ['rows'],
    run(match) {
      if (match.use(phases).phase() === 'live') fill(match)
    },
  },
  calls: {
    /** Whether the whole list is used up and every real task is done; never where there are none. */
    allDone: isAllDone,
    /** The tasks that can be done now, by their ids: everyone's, or a seat's own. */
    open: (match, seat?: Seat): readonly string[] =>
      match.own.rows.where({ to: seat }).flatMap((row) => (isOpen(row) ? [row.id] : [])),
    /** What a task is about; nothing where there is none by that id. */
    task(
      match,
      id: string,
    ): { readonly kind: string; readonly place: string; readonly left: number } | undefined {
      const row = match.own.rows.get(id)
      return row && { kind: row.kind, place: row.place, left: row.need - row.done }
    },
    /** How many tasks a seat has finished. */
    doneBy: (match, seat: Seat): number => match.own.tally.of(seat).done,
  },
})
