import type { Size, Spot } from 'zinc-referee/rules'

/** The pond: stones lie side by side to be one line. */
export const water: Size = { width: 6, height: 6 }

const drawn = ['o.o..o', '....o.', 'o.o...', '...o.o', '.o....', 'o..o.o']

/** Where the twelve lilies float: no two side by side, and alike from both banks. */
export const floating: readonly Spot[] = drawn.flatMap((row, y) =>
  [...row].flatMap((mark, x) => (mark === 'o' ? [{ x, y }] : [])),
)

/** A cell as players call it: b3 is the second from the left, in the third row. */
export const called = ({ x, y }: Spot): string => `${'abcdef'[x]}${y + 1}`

/** True if two cells share a side. */
export const areBeside = (a: Spot, b: Spot): boolean => Math.abs(a.x - b.x) + Math.abs(a.y - b.y) === 1
