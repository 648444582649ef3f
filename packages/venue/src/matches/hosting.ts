/** How a match is hosted. A match that goes on after a restart is hosted as before. */
export interface Hosting {
  /** Delay for spectators, in ms. Default: 0. */
  readonly spectatorDelay: number
  /** If true, it is listed, and players who ask for its mode may be sent to it. Default: true. */
  readonly listed: boolean
  /** If true, the first seat that is here is its organiser, and may start, set, kick, extend and play again. Default: false. */
  readonly led: boolean
  /** How long it goes on without anybody, in ms. Then it is closed. Default: for ever. */
  readonly emptyFor: number | null
  /** If true, bots take empty seats when nobody else has come for a while. Default: false. */
  readonly filled: boolean
}

export const usualHosting: Hosting = {
  spectatorDelay: 0,
  listed: true,
  led: false,
  emptyFor: null,
  filled: false,
}
