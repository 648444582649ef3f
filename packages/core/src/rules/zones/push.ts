/** What decides how heads in a zone turn into progress. */
export interface PushSettings {
  /** Whether one head is as good as many. */
  readonly perHead: 'one' | 'each'
  /** How many heads count at most. */
  readonly maxHeads: number
  /** What becomes of a zone with several sides in it. */
  readonly contested: 'stops' | 'more-heads'
}
/** Which side pushes, and with how many heads; nobody with 0. */
export interface Push {
  readonly side: string
  readonly heads: number
  readonly contested: boolean
}

/** Who pushes a zone in which each side has so many heads. */
export function pushOf(heads: ReadonlyMap<string, number>, settings: PushSettings): Push {
  const [[side, most] = ['', 0], [, second] = ['', 0]] = [...heads].sort(([, a], [, b]) => b - a)
  const contested = second > 0
  if (contested && settings.contested === 'stops') return { side: '', heads: 0, contested }
  const ahead = Math.min(most - second, settings.perHead === 'one' ? 1 : settings.maxHeads)
  return ahead === 0 ? { side: '', heads: 0, contested } : { side, heads: ahead, contested }
}
