/** What decides how heads in a zone turn into progress. */
export interface PushSettings {
  /** Whether each head counts, or one is as good as many. */
  readonly perHead: 'one' | 'each'
  /** How many heads count at most. */
  readonly maxHeads: number
  /** What happens to a zone with several sides in it. */
  readonly contested: 'stops' | 'more-heads'
}
/** The side that pushes, and with how many heads; nobody with 0. */
export interface Push {
  readonly side: string
  readonly heads: number
  readonly contested: boolean
}

/** Returns who pushes a zone in which each side has this many heads. */
export function pushOf(heads: ReadonlyMap<string, number>, settings: PushSettings): Push {
  const [[side, most] = ['', 0], [, second] = ['', 0]] = [...heads].sort(([, a], [, b]) => b - a)
  const contested = second > 0
  if (contested && settings.contested === 'stops') return { side: '', heads: 0, contested }
  const ahead = Math.min(most - second, settings.perHead === 'one' ? 1 : settings.maxHeads)
  return ahead === 0 ? { side: '', heads: 0, contested } : { side, heads: ahead, contested }
}
