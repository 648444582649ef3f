/** The size of the river, in strides of a water bird. */
export const river = { width: 600, height: 240 } as const

/** Each crew has two docks at its end. Cargo pays there, and sunk rafts come back there. */
export const docks = [
  { name: 'Mill Dock', team: 0, x: 20, y: 60 },
  { name: 'Reed Dock', team: 0, x: 20, y: 180 },
  { name: 'Lock Dock', team: 1, x: 580, y: 60 },
  { name: 'Weir Dock', team: 1, x: 580, y: 180 },
]
