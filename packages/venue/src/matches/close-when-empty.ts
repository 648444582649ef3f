import type { HostClock } from 'zinc-referee/host'
import type { HostedMatch } from './hosted-match.ts'

/** Closes a match that nobody has been in for this long, in ms. */
export function closeWhenEmpty(hosted: HostedMatch, ms: number, clock: HostClock): void {
  let since = clock.now()
  const check = (): void => {
    if (hosted.people.length > 0) since = clock.now()
    if (clock.now() - since >= ms) hosted.close('abandoned')
    else callOff = clock.wakeAfter(ms / 4, check)
  }
  let callOff = clock.wakeAfter(ms / 4, check)
  hosted.ends.add(() => callOff())
}
