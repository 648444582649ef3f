import { chacha20 } from '@noble/ciphers/chacha.js'
import { sha256 } from '@noble/hashes/sha2.js'
import { concatBytes, utf8ToBytes } from '@noble/hashes/utils.js'
import { type IdMaker, INNER } from '../rows/index.ts'

/** The alphabet of base64url (RFC 4648): it needs no escape in JSON, in a JSON Pointer or in a URL. */
const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_'
/** Ten letters hold 60 bits. */
const HALF = 5
/**
 * A block of ChaCha20 has eight ids that are likely to be needed together: those of rows with consecutive numbers or,
 * for a row that has been renamed, of its consecutive names. The block counter keeps the two kinds apart.
 */
const IDS_IN_BLOCK = 8
const OF_ROWS = 0
const OF_NAMES = 1
const blank = new Uint8Array(IDS_IN_BLOCK * 8)

/** Eight ids, and what they are of. */
interface Block {
  readonly kind: number
  readonly table: number
  readonly row: number
  readonly name: number
  readonly ids: DataView
}

/**
 * Ids as a pseudo-random function (ChaCha20, RFC 8439) of the match's secret and three 32-bit numbers: table, row and
 * name. An id does not depend on the order in which ids are asked for. Without the secret, no id says anything about
 * another.
 */
export class KeyedIds implements IdMaker {
  private readonly secret: Uint8Array
  private key: Uint8Array | undefined
  /** The block that was made last. */
  private last: Block | undefined

  constructor(secret: Uint8Array) {
    this.secret = secret
  }

  text(table: number, row: number, name: number): string {
    const kind = name === 0 || name === INNER ? OF_ROWS : OF_NAMES
    const place = (kind === OF_ROWS ? row : name) % IDS_IN_BLOCK
    const block =
      kind === OF_ROWS
        ? this.blockOf(kind, table, row - place, name)
        : this.blockOf(kind, table, row, name - place)
    return letter5(block.getUint32(place * 8, true)) + letter5(block.getUint32(place * 8 + 4, true))
  }

  private blockOf(kind: number, table: number, row: number, name: number): DataView {
    const { last } = this
    const isKept = last?.kind === kind && last.table === table && last.row === row && last.name === name
    if (isKept) return last.ids
    this.key ??= sha256(concatBytes(utf8ToBytes('row ids'), this.secret))
    const nonce = new DataView(new ArrayBuffer(12))
    nonce.setUint32(0, table, true)
    nonce.setUint32(4, row, true)
    nonce.setUint32(8, name, true)
    const bytes = chacha20(this.key, new Uint8Array(nonce.buffer), blank, undefined, kind)
    const ids = new DataView(bytes.buffer, bytes.byteOffset)
    this.last = { kind, table, row, name, ids }
    return ids
  }
}

/** Five letters of six bits each; two bits are left over. */
function letter5(word: number): string {
  let text = ''
  for (let at = 0; at < HALF; at++) text += letters[(word >>> (at * 6)) & 63]
  return text
}
