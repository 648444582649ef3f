import type { Mode } from '../mode.ts'
import { stonesDemo } from './demo.ts'
import { steppingStones } from './rulebook.ts'

export const stones: Mode = { title: 'Stepping Stones', rulebook: steppingStones, demo: stonesDemo }
