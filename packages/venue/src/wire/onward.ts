const CLOSE_GOING = 1001
/** These say that nothing was said (RFC 6455, 7.4.1): no code, and no farewell. */
const [NO_CODE, NO_FAREWELL] = [1005, 1006]

/** With more bytes waiting for a client, nothing more is read for it until there are less. */
export const MUCH: number = 64 * 1024
export const LITTLE: number = 16 * 1024

/** Returns how a client is closed when the way onward for it has ended so. Where nothing was said, it comes back. */
export const closingOf = (code: number, reason: Buffer): readonly [code: number, reason: string] =>
  code === NO_CODE || code === NO_FAREWELL ? [CLOSE_GOING, 'the venue closes'] : [code, String(reason)]
