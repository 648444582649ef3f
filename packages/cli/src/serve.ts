import { setTimeout as sleep } from 'node:timers/promises'
import { pageFolder } from '@zinc-referee/examples'
import { type HostedMatch, openVenue, VenueError } from '@zinc-referee/venue'
import { type Crowd, randomCrowd } from 'zinc-referee/testing'
import { type LoadedMode, loadMode } from './load-mode.ts'
import { pairs, print, strong } from './paper.ts'
import { exit, Trouble } from './trouble.ts'

export interface ServeOptions {
  readonly rulebook?: string
  readonly port: number
  readonly seed?: string
  readonly records: string
  /** False with --no-bots. */
  readonly bots: boolean
}

const FAIR = ['Otter', 'Heron', 'Vole', 'Newt', 'Coot', 'Pike', 'Moth', 'Toad']
const PLAYING = new Set(['countdown', 'live', 'break'])

/** Hosts one match of a mode and the page to play it on, until it is interrupted. */
export async function serve(name: string | undefined, options: ServeOptions): Promise<number> {
  const mode = await loadMode(name, options.rulebook)
  const crowd = mode.demo.crowd?.(options.seed ?? 'fair-1') ?? randomCrowd(options.seed ?? 'fair-1')
  const venue = await openVenue({
    port: options.port,
    records: options.records,
    page: pageFolder,
    openEyes: true,
    joined: (hosted) => {
      if (options.bots) fillWithBots(hosted, mode)
    },
  }).catch((error: unknown) => {
    throw error instanceof VenueError ? new Trouble(error.message) : error
  })
  const hosted = venue.begin(
    mode.rulebook.name,
    mode.rulebook,
    options.seed === undefined ? {} : { seed: options.seed },
  )
  print(
    `${strong(mode.title)}   ${mode.rulebook.plan.room.min} to ${mode.rulebook.plan.room.max} seats${options.bots ? '   bots fill the empty ones' : ''}`,
    pairs([
      ['page', venue.url],
      ['record', `${options.records}/${mode.rulebook.name}-${mode.rulebook.name}.jsonl`],
      ['next', 'open the page in two windows; Ctrl-C ends the match and its record'],
    ]),
  )
  const stop = new AbortController()
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => stop.abort())
  await beat(hosted, mode, crowd, options.bots, stop.signal)
  await venue.close()
  print('The match is closed and its record is whole.')
  return exit.done
}

/** The crowd drives bots, and its simulation reports what happens; both are the game's own business, not the venue's. */
async function beat(
  hosted: HostedMatch,
  mode: LoadedMode,
  crowd: Crowd,
  bots: boolean,
  signal: AbortSignal,
): Promise<void> {
  while (!signal.aborted) {
    if (hosted.match.seats.length > 0) {
      hosted.run((match) => crowd.beat(match, (seat) => bots && rosterOf(hosted).of(seat).bot))
      if (bots) fillWithBots(hosted, mode)
    }
    await sleep(crowd.every, undefined, { signal }).catch(() => undefined)
  }
}

/** Before and after a bout, empty seats go to bots; there must be somebody to play with. */
function fillWithBots(hosted: HostedMatch, mode: LoadedMode): void {
  const { match } = hosted
  const people = match.seats.filter(
    (seat) => !rosterOf(hosted).of(seat).bot && rosterOf(hosted).of(seat).presence === 'here',
  )
  if (people.length === 0 || PLAYING.has(phaseOf(hosted))) return
  const wanted = Math.min(mode.rulebook.plan.room.max, FAIR.length)
  const names = (mode.demo.seats ?? FAIR.map((name) => ({ id: name.toLowerCase(), name }))).filter(
    ({ id }) => !match.seats.includes(id),
  )
  const taken = match.seats.filter((seat) => rosterOf(hosted).of(seat).presence !== 'gone').length
  for (const { id, name } of names.slice(0, Math.max(0, wanted - taken)))
    hosted.run(() => match.direct('roster.join', { seat: id, name, bot: true }))
}

interface Roster {
  of(seat: string): { readonly bot: boolean; readonly presence: string }
}
// Roster and phases are in every rulebook, whatever else is not known of it here.
interface Always {
  readonly roster: { readonly seats: Roster }
  readonly phases: { readonly now: { readonly phase: string } }
}
const always = ({ match }: HostedMatch): Always => match.state as object as Always
const rosterOf = (hosted: HostedMatch): Roster => always(hosted).roster.seats
const phaseOf = (hosted: HostedMatch): string => always(hosted).phases.now.phase
