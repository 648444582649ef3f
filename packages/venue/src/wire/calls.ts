import type { ActionOptions, Ruling, Seat } from 'zinc-referee'
import type { HostedMatch } from '../matches/index.ts'
import type { Role } from '../roles.ts'
import type { ParamsOf, RpcProblem } from './protocol.ts'
import { settingFields } from './setting-fields.ts'
import { SKIP, skip } from './skip.ts'
import type { Trail } from './trail.ts'

/** A call that is not carried out. */
export class Refused extends Error {
  readonly problem: RpcProblem
  readonly details: object
  constructor(problem: RpcProblem, details: object = {}) {
    super(problem)
    this.problem = problem
    this.details = details
  }
}

/** The match that a visitor has joined, and as whom. */
export interface Joined {
  readonly hosted: HostedMatch
  readonly viewer: string
  readonly seat: Seat | undefined
  readonly role: Role
  /** Who it is, by its admission. */
  readonly by: string | undefined
  /** True if its admission says that it leads the match. */
  readonly leads: boolean
  readonly trail: Trail
}
/** What whoever leads a match may direct. */
const LEADING: ReadonlySet<string> = new Set([
  'match.set',
  'phases.start',
  'phases.cancel',
  'phases.pause',
  'phases.resume',
  'roster.kick',
  'rounds.extend',
  'rounds.again',
])

/** Carries out an action. Returns the ruling as JSON text. @throws Refused */
export function act(joined: Joined, { action, input = {}, id, life, turn }: ParamsOf<'act'>): string {
  const ruling = submitted(joined, action, input, {
    ...(id === undefined ? {} : { id }),
    ...(life === undefined ? {} : { life }),
    ...(turn === undefined ? {} : { turn }),
  })
  return rulingText(joined.hosted, ruling)
}

/** Submits an action of the visitor's seat. @throws Refused if it has none */
export function submitted(joined: Joined, action: string, input: unknown, how: ActionOptions): Ruling {
  const { hosted, seat } = seated(joined)
  return hosted.submit(seat, action, input, how)
}

/** Returns the options of an action, as JSON text. @throws Refused */
export function options(joined: Joined, { action, part }: ParamsOf<'options'>): string {
  const { hosted, seat } = seated(joined)
  return JSON.stringify(hosted.run((match) => match.options(seat, action, part)))
}

/** Takes what a game server has seen. Returns its rulings, as JSON text. @throws Refused */
export function report({ hosted, role }: Joined, { fact, input = {}, inputs }: ParamsOf<'report'>): string {
  if (role !== 'reporter' && role !== 'referee') throw new Refused('not-your-role')
  assertRuns(hosted)
  const all = hosted.run((match) => match.reportAll(fact, inputs ?? [input]))
  const texts = all.map((ruling) => rulingText(hosted, ruling))
  return inputs === undefined ? (texts[0] ?? '') : `[${texts.join(',')}]`
}

/** Takes an order of a referee, or of whoever leads the match. Returns its ruling, as JSON text. @throws Refused */
export function direct(joined: Joined, { directive, input = {} }: ParamsOf<'direct'>): string {
  const { hosted, seat, role, by, leads } = joined
  assertRuns(hosted)
  const isLeader = leads || (seat !== undefined && hosted.organiser === seat)
  if (role !== 'referee' && !(isLeader && LEADING.has(directive))) throw new Refused('not-your-role')
  const referee = by ?? seat
  const how = referee === undefined ? {} : { referee }
  if (directive === SKIP) return skip(hosted, input, how)
  const ruling = hosted.run((match) => match.direct(directive, input, how))
  return rulingText(hosted, ruling)
}

/** Returns the rulebook as data; for a referee, with the settings that may be changed now. As JSON text. */
export function describe({ hosted, role }: Joined): string {
  const settings = role === 'referee' ? { settings: settingFields(hosted) } : {}
  return JSON.stringify({ ...hosted.match.describe(), ...settings })
}

function seated({ hosted, seat }: Joined): { readonly hosted: HostedMatch; readonly seat: Seat } {
  assertRuns(hosted)
  if (seat === undefined) throw new Refused('only-watching')
  return { hosted, seat }
}

/** On a full disk a match stands still. */
function assertRuns({ isPaused }: HostedMatch): void {
  if (isPaused) throw new Refused('not-now')
}

/** Returns a ruling as it is sent. */
export const rulingText = (hosted: HostedMatch, ruling: Ruling): string =>
  JSON.stringify(ruling.ok ? { ok: true } : { ok: false, ...said(hosted, ruling) })

/** Returns a refusal as it is sent: its code, its text, and its data. */
export function said({ match }: HostedMatch, ruling: Ruling & { readonly ok: false }): object {
  const { code, details } = ruling
  return { code, says: match.explain(ruling), ...(details !== undefined && { details }) }
}
