import type { Mode } from '../mode.ts'
import { bellDemo } from './demo.ts'
import { bellTide } from './rulebook.ts'

export const bell: Mode = { title: 'Bell Tide', rulebook: bellTide, demo: bellDemo }
