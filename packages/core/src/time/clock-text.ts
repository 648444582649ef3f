import { assertWhole } from '../kit/index.ts'

/** How a time is written. */
export interface ClockStyle {
  /** 'never' keeps counting minutes beyond the hour ("90:00"). */
  readonly hours?: 'auto' | 'never'
  /** Below this many ms tenths are shown, such as "0:09.9". */
  readonly tenthsBelow?: number
}

/**
 * Returns remaining time as text, rounded up: "0:00" shows at 0 and only then. A negative time reads as 0. @throws
 * ZR_TIME_NOT_WHOLE if `ms` is not a whole number
 */
export function formatRemaining(ms: number, { hours = 'auto', tenthsBelow = 0 }: ClockStyle = {}): string {
  assertWhole('A time to write', ms)
  const rest = Math.max(0, ms)
  const tenths = Math.ceil(rest / 100)
  if (tenths * 100 < tenthsBelow) return `${clock(Math.floor(tenths / 10), hours)}.${tenths % 10}`
  return clock(Math.ceil(rest / 1000), hours)
}

/**
 * Returns elapsed time as text, rounded down; before the start it is negative ("-0:01"). With `plus`, as overtime
 * ("+0:07"). @throws ZR_TIME_NOT_WHOLE if `ms` is not a whole number
 */
export function formatElapsed(
  ms: number,
  { hours = 'auto', plus = false }: Pick<ClockStyle, 'hours'> & { readonly plus?: boolean } = {},
): string {
  assertWhole('A time to write', ms)
  const whole = Math.floor(ms / 1000)
  return whole < 0 ? `-${clock(-whole, hours)}` : `${plus ? '+' : ''}${clock(whole, hours)}`
}

/** Returns the ms until the text of `formatRemaining(ms)` changes, or nothing once it reads 0:00. */
export function nextChange(ms: number): number | undefined {
  return ms <= 0 ? undefined : ms - 1000 * (Math.ceil(ms / 1000) - 1)
}

function clock(total: number, hours: 'auto' | 'never'): string {
  const two = (n: number): string => String(n).padStart(2, '0')
  const minutes = Math.floor(total / 60)
  if (hours === 'never' || minutes < 60) return `${minutes}:${two(total % 60)}`
  return `${Math.floor(minutes / 60)}:${two(minutes % 60)}:${two(total % 60)}`
}
