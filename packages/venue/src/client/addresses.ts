/** How often a join may be sent on to another venue. */
const MOST_HOPS = 5

/** The addresses of the venues that a client may come back by: where it was last, and the others of the circuit. */
export class Addresses {
  private readonly first: string
  private current: string
  private others: readonly string[] = []
  private tries = 0
  private hops = 0

  constructor(url: string) {
    this.first = url
    this.current = url
  }

  /** Returns the address to try now: the one where it was first, then all others in turn. */
  next(): string {
    const all = [...new Set([this.current, ...this.others, this.first])]
    return all[this.tries++ % all.length] ?? this.current
  }

  /** It has joined at the last address that it tried. */
  joined(at: string): void {
    this.goTo(at)
    this.hops = 0
  }

  /** The one where it was does not answer: it is tried after all others. */
  passOver(): void {
    this.tries++
  }

  /** The venues that are there now, as the one says that it is connected to. */
  know(others: readonly string[] | undefined): void {
    if (others !== undefined) this.others = others
  }

  /** Its match is at another address. Returns false if it has been sent on too often. */
  sentTo(url: string): boolean {
    this.others = [...new Set([...this.others, this.current])]
    this.goTo(url)
    return ++this.hops <= MOST_HOPS
  }

  private goTo(url: string): void {
    this.current = url
    this.tries = 0
  }
}
