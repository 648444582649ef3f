import { openCircuit, type VenueInCircuit } from '@zinc-referee/circuit'
import { type HostedMatch, openVenue, type Venue } from '@zinc-referee/venue'
import { counting } from './circuit-mode.js'

/** A venue of a circuit. `moved`: takes how long each match stood still that moved from here, in ms. */
export async function venueIn(
  name: string,
  servers: readonly string[],
  folder: string,
  moved: (took: number) => void = () => {},
): Promise<{ readonly venue: Venue; readonly circuit: VenueInCircuit }> {
  const log = {
    info: ((fields: { readonly took?: number }) => fields.took && moved(fields.took)) as never,
    warn() {},
    error() {},
  }
  const circuit = await openCircuit({ venue: name, servers, modes: [counting.name], records: folder, log })
  return { circuit, venue: await openVenue({ circuit, rulebooks: [counting], log }) }
}

/** Begins a match in which otter can count. Resolves when it is safe. */
export async function beginCounting(venue: Venue, id: string): Promise<HostedMatch> {
  const hosted = venue.begin(id, counting, { seed: id, settings: { phases: { countdown: 0 } } })
  hosted.run((match) => match.direct('roster.join', { seat: 'otter', name: 'Otter' }))
  hosted.run((match) => match.direct('phases.start', {}))
  await new Promise<void>((safe) => hosted.whenSafe(safe))
  return hosted
}

/** Counts once. Resolves when the ruling may leave. */
export const count = (hosted: HostedMatch): Promise<void> =>
  new Promise((safe) => {
    hosted.submit('otter', 'counts.count', {}, {})
    hosted.whenSafe(safe)
  })

// As a process of its own it begins matches, and waits to be killed.
if (process.argv[2] === '--doomed') {
  const [, , , servers = '', folder = '', matches = '0'] = process.argv
  const { venue } = await venueIn('doomed', servers.split(','), folder)
  for (let at = 0; at < Number(matches); at++) await beginCounting(venue, `doomed-${at}`)
  process.send?.('ready')
}
