import type { Mode } from '../mode.ts'
import { pondDemo } from './demo.ts'
import { pikePond } from './rulebook.ts'

export const pond: Mode = { title: 'Pike Pond', rulebook: pikePond, demo: pondDemo }
