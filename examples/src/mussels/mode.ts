import type { Mode } from '../mode.ts'
import { musselsDemo } from './demo.ts'
import { musselDip } from './rulebook.ts'

export const mussels: Mode = { title: 'Mussel Dip', rulebook: musselDip, demo: musselsDemo }
