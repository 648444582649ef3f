/** The size of the pier, in tenths of a metre. */
export const pier = { width: 600, height: 200 } as const

/** The bell is in the middle. Whoever is within its reach can ring it. */
export const bell = { x: 300, y: 100, reach: 60 } as const

/** Who rings for so long first wins the round, in ms. */
export const goal = 60_000

/** How far one sees in the fog. */
export const sight = { near: 300, far: 320 } as const

/** Each crew has two docks at its end. Who is down comes back at the quieter one. */
export const docks = [
  { name: 'North Steps', team: 0, x: 20, y: 30 },
  { name: 'Net Loft', team: 0, x: 20, y: 170 },
  { name: 'Lamp House', team: 1, x: 580, y: 30 },
  { name: 'South Steps', team: 1, x: 580, y: 170 },
]

/** The crews, by the number of their team. */
export const crews = ['Flood Crew', 'Ebb Crew'] as const
