import { timeFrom } from 'zinc-referee/testing'
import { CommandError } from '../errors.ts'

/** Returns a match time in ms from a text such as "0:57", "1:02:03", "57s" or "57000ms". */
export function parseTime(text: string): number {
  const time = timeFrom(text)
  if (time === undefined)
    throw new CommandError(`'${text}' is not a time. Write it as 0:57, 1:02:03, 57s or 57000ms.`)
  return time
}
