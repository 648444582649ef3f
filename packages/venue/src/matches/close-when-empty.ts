import type { HostClock } from 'zinc-referee/host'
import type { HostedMatch } from './hosted-match.ts'

/** Closes a match that nobody has been in for this long, in ms. */
export function closeWhenEmpty(hosted: HostedMatch, ms: number, clock: HostClock): void {
  let since = clock.now()
  hosted.every(ms / 4, () => {
    if (hosted.people.length > 0) since = clock.now()
    if (clock.now() - since >= ms) hosted.close('abandoned')
  })
}
