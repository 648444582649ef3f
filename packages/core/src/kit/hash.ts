/**
 * A text's hash in two 32-bit lanes (multiply and rotate, finished as in MurmurHash3), for telling states apart. It
 * does not protect against forgery.
 */
export class HashSum {
  private high = 0
  private low = 0

  /** Adds a text; the order in which texts are added does not matter. */
  add(text: string): void {
    this.include(lanesOf(text))
  }

  /** Adds the lanes of a text that were computed before. */
  include({ high, low }: Lanes): void {
    const sum = this.low + low
    this.low = sum >>> 0
    this.high = (this.high + high + (sum > 0xffffffff ? 1 : 0)) >>> 0
  }

  /** The 64 bits as 16 hexadecimal digits. */
  text(): string {
    return hex(this.high) + hex(this.low)
  }
}

/** The two lanes of one text. */
export interface Lanes {
  readonly high: number
  readonly low: number
}

export function lanesOf(text: string): Lanes {
  let a = 0x9e3779b9
  let b = 0x85ebca6b ^ text.length
  for (let at = 0; at < text.length; at++) {
    const unit = text.charCodeAt(at)
    a = Math.imul(a ^ unit, 0x85ebca77)
    a = (a << 13) | (a >>> 19)
    b = Math.imul(b ^ unit, 0xc2b2ae3d)
    b = (b << 15) | (b >>> 17)
  }
  a = finish(a ^ (b >>> 7))
  b = finish(b ^ a)
  return { high: b >>> 0, low: a >>> 0 }
}

function finish(lane: number): number {
  let h = lane
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return h ^ (h >>> 16)
}

const hex = (lane: number): string => lane.toString(16).padStart(8, '0')

/** The hash of one text. */
export function hashText(text: string): string {
  const sum = new HashSum()
  sum.add(text)
  return sum.text()
}
