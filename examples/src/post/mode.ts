import type { Mode } from '../mode.ts'
import { postDemo } from './demo.ts'
import { ebbPost } from './rulebook.ts'

export const post: Mode = { title: 'Ebb Post', rulebook: ebbPost, demo: postDemo }
