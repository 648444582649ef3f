/**
 * `match` always runs; `phase` stops during pauses; `play` runs only in live play; `turn` runs like `play`, but stops
 * while the turn is held up.
 */
export type ClockName = 'match' | 'phase' | 'play' | 'turn'
export const clockNames: readonly ClockName[] = ['match', 'phase', 'play', 'turn']
