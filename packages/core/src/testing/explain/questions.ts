/** The moment of a question. Default: the end of the record. */
export interface AskedAt {
  /** Match time, in ms. */
  readonly at?: number
  /** The number of a line of the record, once it was played. */
  readonly line?: number
}
/** A question about what was decided in a recorded match. */
export type Question =
  /** Why does a cell hold what it holds? Such as `otter.health`, `vitals.body.otter.health`. */
  | ({ readonly about: 'cell'; readonly cell: string } & AskedAt)
  /** Why was the input of this line ruled as it was? */
  | { readonly about: 'line'; readonly line: number }
  /** Why was the last action of this name ruled as it was, that this seat sent up to then? */
  | ({ readonly about: 'action'; readonly seat: string; readonly action: string } & AskedAt)
  /**
   * Why did something happen, or not? An event or a timer (`respawn.back`), or a rule (`turns`) for what it is named after;
   * of a seat or another key, or with this number, such as a round.
   */
  | ({
      readonly about: 'happening'
      readonly name: string
      readonly of?: string
      readonly n?: number
    } & AskedAt)
  /** Why is something an option of a seat, or not? Without an input: why has it any, or none? */
  | ({
      readonly about: 'option'
      readonly seat: string
      readonly action: string
      readonly input?: object
    } & AskedAt)
  /** Why does a viewer see a cell, or not? */
  | ({ readonly about: 'sight'; readonly viewer: string; readonly cell: string } & AskedAt)
