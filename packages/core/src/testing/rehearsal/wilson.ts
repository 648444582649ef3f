/** How often something came true, of how many times that it could. */
export interface Counted {
  readonly times: number
  readonly of: number
}

/** From 0 to 1; 0 of nothing. */
export const share = ({ times, of }: Counted): number => (of === 0 ? 0 : times / of)

/** Of a normal distribution, 95 % lie within so many standard deviations. */
const Z = 1.959964

/** The 95 % confidence interval of a share. Source: E. B. Wilson (1927), see `Share`. */
export function wilson({ times, of }: Counted): readonly [low: number, high: number] {
  if (of === 0) return [0, 1]
  const part = times / of
  const middle = part + Z ** 2 / (2 * of)
  const reach = Z * Math.sqrt((part * (1 - part)) / of + Z ** 2 / (4 * of ** 2))
  const scale = 1 + Z ** 2 / of
  return [Math.max(0, (middle - reach) / scale), Math.min(1, (middle + reach) / scale)]
}
