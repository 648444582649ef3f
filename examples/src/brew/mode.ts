import type { Mode } from '../mode.ts'
import { brewDemo } from './demo.ts'
import { spoiledBrew } from './rulebook.ts'

export const brew: Mode = { title: 'Spoiled Brew', rulebook: spoiledBrew, demo: brewDemo }
