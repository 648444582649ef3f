import type { Mode } from '../mode.ts'
import { kettleDemo } from './demo.ts'
import { kettleWatch } from './rulebook.ts'

export const kettle: Mode = { title: 'Kettle Watch', rulebook: kettleWatch, demo: kettleDemo }
