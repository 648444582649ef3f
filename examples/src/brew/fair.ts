/** The five barrels, and the eight places at which malt may lie. */
export const barrelNames = ['mash', 'copper', 'tun', 'cooler', 'cask'] as const
export const maltPlaces = ['mill', 'lock', 'weir', 'quay', 'ferry', 'barn', 'well', 'gate'] as const
export type BarrelName = (typeof barrelNames)[number]
export type FairPlace = BarrelName | (typeof maltPlaces)[number]

/** From 0, as sour as can be, to 99, as sweet as can be. */
export const MOST = 99
/** What the nose tells: a fifth, from 0 (sour) to 4 (sweet). */
export const fifthOf = (taste: number): number => Math.floor(taste / 20)
