/** The size of the pond, in units of a fin's breadth. */
export const pond = { width: 1200, height: 600 } as const

/** A fish comes into sight within `near` units, and is lost beyond `far`. */
export const sight = { near: 160, far: 190 } as const
