import type { Mode } from '../mode.ts'
import { regattaDemo } from './demo.ts'
import { reedRegatta } from './rulebook.ts'

export const regatta: Mode = { title: 'Reed Regatta', rulebook: reedRegatta, demo: regattaDemo }
