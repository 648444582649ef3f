import type { Seat } from '../../cells/index.ts'
import { anyRoles } from '../roles/roles.ts'
import type { Errand, ErrandAsked, Match } from './shape.ts'

export const isOpen = ({ closedAt }: Errand): boolean => closedAt === undefined

const openOnes = (match: Match): readonly Errand[] => match.own.rows.all().filter(isOpen)

const indices = (match: Match): number[] => match.settings.list.map((_, at) => at)

/** Returns the list in the order in which errands come; shuffled, no kind comes twice in a row if that can be avoided. */
function nextLoad(match: Match): number[] {
  const { spawn, list } = match.settings
  if (spawn !== 'random') return indices(match)
  const load = match.chance('errands').shuffle(indices(match))
  const last = match.own.queue.last
  const isSame = (at: number | undefined): boolean =>
    at !== undefined && last !== undefined && list[at]?.kind === list[last]?.kind
  const other = load.findIndex((at) => !isSame(at))
  if (isSame(load[0]) && other > 0) load.push(...load.splice(0, other))
  return load
}

/** A free place at random; '' if errands have none, nothing if all are taken. */
function freePlace(match: Match): string | undefined {
  const { places } = match.settings
  if (places.length === 0) return ''
  const taken = new Set(openOnes(match).map(({ place }) => place))
  return match.chance('places').pick(places.filter((place) => !taken.has(place)))
}

function openListed(match: Match, at: number, to: Seat | undefined, place: string, real: boolean) {
  const errand = match.settings.list[at]
  if (errand !== undefined) open(match, errand, to, place, real)
}

/** What is to be done, as in the setting `list`. */
interface Listed {
  readonly kind: string
  readonly need: number
  readonly within: number | null
}

function open(
  match: Match,
  { kind, need, within }: Listed,
  to: Seat | undefined,
  place: string,
  real: boolean,
): Errand {
  const until = within === null ? undefined : match.time.play + within
  const row = match.own.rows.add({ kind, need, to, place, real, until })
  if (within !== null) match.timers.start('expire', { in: within, key: row.id })
  match.emit('spawned', { errand: row.id, kind, place })
  return row
}

/** An errand besides the list: the total grows by it. Its place: the one given, else a free one. */
export function spawn(
  match: Match,
  { kind, need = 1, within = null, to, place = freePlace(match) ?? '' }: ErrandAsked,
): string {
  const real = to === undefined || !isUncounted(match, to)
  if (real && !match.settings.again) match.own.total.of += need
  return open(match, { kind, need, within }, to, place, real).id
}

/** Opens as many shared errands as allowed, while there are free places. */
export function fill(match: Match) {
  const { spawn, atOnce, again, each, list } = match.settings
  if (each !== null || list.length === 0) return
  const { queue } = match.own
  const most = spawn === 'all' ? list.length : atOnce
  for (let count = openOnes(match).length; count < most; count++) {
    if (queue.left.length === 0 && again) queue.left = nextLoad(match)
    const [next, ...rest] = queue.left
    const place = next === undefined ? undefined : freePlace(match)
    if (next === undefined || place === undefined) return
    queue.left = rest
    queue.last = next
    if (again) forgetOld(match)
    openListed(match, next, undefined, place, true)
  }
}

/**
 * With an endless list, closed errands are removed, but not in the same ms: whoever came second gets the answer that
 * it is done.
 */
function forgetOld(match: Match) {
  for (const row of match.own.rows.all())
    if (row.closedAt !== undefined && row.closedAt < match.time.play) match.own.rows.remove(row.id)
}

const isUncounted = (match: Match, seat: Seat): boolean => {
  const { uncounted } = match.config
  return uncounted !== undefined && match.use(anyRoles)?.camp(uncounted).includes(seat) === true
}

/** A seat's own errands: drawn from the list, none twice before all of it was drawn. */
function dealTo(match: Match, seat: Seat, each: number) {
  const own = Array.from({ length: Math.ceil(each / match.settings.list.length) }, () =>
    match.chance('errands').shuffle(indices(match)),
  ).flat()
  for (const at of own.slice(0, each))
    openListed(match, at, seat, freePlace(match) ?? '', !isUncounted(match, seat))
}

/** A seat has come into play late: it gets errands of its own, unless it has some. */
export function welcome(match: Match, seat: Seat) {
  const { each, list, lateErrands } = match.settings
  const hasSome = match.own.rows.where({ to: seat }).length > 0
  if (!lateErrands || each === null || list.length === 0 || hasSome) return
  dealTo(match, seat, each)
  for (const { need, real } of match.own.rows.where({ to: seat })) if (real) match.own.total.of += need
}

export function begin(match: Match) {
  const { list, each } = match.settings
  if (list.length === 0) return
  if (each !== null) {
    for (const seat of match.seats) dealTo(match, seat, each)
    match.own.total.of = match.own.rows.all().reduce((sum, { need, real }) => sum + (real ? need : 0), 0)
    return
  }
  match.own.queue.left = nextLoad(match)
  if (!match.settings.again) match.own.total.of = list.reduce((sum, { need }) => sum + need, 0)
  fill(match)
}
