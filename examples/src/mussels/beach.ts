/** Number of places on the beach, from 1, and how many there are in a row. */
export const beach = { places: 24, inRow: 6 } as const
