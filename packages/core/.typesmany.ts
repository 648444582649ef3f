import { beginMatch } from 'zinc-referee'
export const begin = beginMatch
