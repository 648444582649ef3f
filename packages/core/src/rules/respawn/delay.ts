/** What decides how long a seat stays down. Times are in ms. */
export interface DelaySettings {
  readonly mode: 'fixed' | 'growing' | 'wave' | 'never'
  readonly after: number
  readonly step: number
  readonly maxDelay: number | null
  readonly waveEvery: number
  readonly waveLead: number
}

/**
 * Returns the ms from a down to the return: for this down of the seat in the bout, after this much play time of the
 * round.
 */
export function delayOf(settings: DelaySettings, downs: number, played: number): number {
  const { mode, after, step, maxDelay, waveEvery, waveLead } = settings
  if (mode === 'growing') return Math.min(maxDelay ?? Number.MAX_SAFE_INTEGER, after + step * (downs - 1))
  if (mode !== 'wave') return after
  const earliest = Math.max(played + 1, played + waveLead)
  return Math.ceil(earliest / waveEvery) * waveEvery - played
}
