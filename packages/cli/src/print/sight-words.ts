import type { CellDescription } from 'zinc-referee'

const words: { readonly [R in CellDescription['seenBy']]: string } = {
  everyone: 'everyone',
  owner: 'its owner',
  some: 'by the row',
  nobody: 'nobody',
}

/** Returns who sees a cell, how often it is sent, and who gets a mask instead. */
export const seenText = (how: CellDescription): string =>
  (how.by !== undefined && how.by.length > 0 ? how.by.join(', ') : words[how.seenBy]) +
  (how.every === undefined ? '' : `, every ${how.every} ms`) +
  (how.maskedFor === undefined ? '' : `, masked for ${how.maskedFor}`)
