import { chacha20 } from '@noble/ciphers/chacha.js'
import { sha256 } from '@noble/hashes/sha2.js'
import { concatBytes, utf8ToBytes } from '@noble/hashes/utils.js'
import type { IdMaker } from '../state/index.ts'

/** The alphabet of base64url (RFC 4648): it needs no escape in JSON, in a JSON Pointer or in a URL. */
const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_'
/** Ten letters hold 60 bits. */
const HALF = 5
/** A block of ChaCha20 has eight ids, of rows with consecutive numbers: they are often asked for together. */
const IDS_IN_BLOCK = 8
const blank = new Uint8Array(IDS_IN_BLOCK * 8)

/**
 * Ids as a pseudo-random function (ChaCha20, RFC 8439) of a match's secret and a table, a row and a name, each a 32-bit
 * number. They are the same whatever was asked for before, and without the secret none says anything about another.
 */
export class KeyedIds implements IdMaker {
  private readonly secret: Uint8Array
  private key: Uint8Array | undefined
  private block: DataView | undefined
  private table = 0
  private first = 0
  private name = 0

  constructor(secret: Uint8Array) {
    this.secret = secret
  }

  text(table: number, row: number, name: number): string {
    const place = row % IDS_IN_BLOCK
    const block = this.blockOf(table, row - place, name)
    return letter5(block.getUint32(place * 8, true)) + letter5(block.getUint32(place * 8 + 4, true))
  }

  private blockOf(table: number, first: number, name: number): DataView {
    const isKept = this.table === table && this.first === first && this.name === name
    if (this.block !== undefined && isKept) return this.block
    this.table = table
    this.first = first
    this.name = name
    this.key ??= sha256(concatBytes(utf8ToBytes('row ids'), this.secret))
    const nonce = new DataView(new ArrayBuffer(12))
    nonce.setUint32(0, table, true)
    nonce.setUint32(4, first, true)
    nonce.setUint32(8, name, true)
    const bytes = chacha20(this.key, new Uint8Array(nonce.buffer), blank)
    this.block = new DataView(bytes.buffer, bytes.byteOffset)
    return this.block
  }
}

/** Five letters of six bits each; two bits are left over. */
function letter5(word: number): string {
  let text = ''
  for (let at = 0; at < HALF; at++) text += letters[(word >>> (at * 6)) & 63]
  return text
}
