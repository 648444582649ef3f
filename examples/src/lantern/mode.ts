import type { Mode } from '../mode.ts'
import { lanternDemo } from './demo.ts'
import { lanternMarket } from './rulebook.ts'

export const lantern: Mode = { title: 'Lantern Market', rulebook: lanternMarket, demo: lanternDemo }
