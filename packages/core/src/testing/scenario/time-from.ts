/** Returns the ms that a text means, such as "0:57", "1:02:03", "57.5s" or "57000ms"; nothing for other texts. */
export function timeFrom(text: string | number): number | undefined {
  if (typeof text === 'number') return text >= 0 ? text : undefined
  const short = /^(\d+(?:\.\d{1,3})?)(ms|s)$/.exec(text)
  if (short) return Math.round(Number(short[1]) * (short[2] === 's' ? 1000 : 1))
  const clock = /^(?:(\d+):)?(\d+):(\d{2})(?:\.(\d{1,3}))?$/.exec(text)
  if (!clock) return undefined
  const [, hours = '0', minutes = '0', seconds = '0', part = '0'] = clock
  return (Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds)) * 1000 + Number(part.padEnd(3, '0'))
}
