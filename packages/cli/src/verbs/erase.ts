import { readFileSync, renameSync, writeFileSync } from 'node:fs'
import { gunzipSync, gzipSync } from 'node:zlib'
import { Command } from 'commander'
import { erasePlayer } from 'zinc-referee'
import { exit } from '../errors.ts'
import { openRecord } from '../modes/open-record.ts'
import { print } from '../print/output.ts'
import { exitWith, shared } from './options.ts'

/** zinc-referee erase */
export const verb: Command = new Command('erase')
  .argument('<record>')
  .requiredOption('--player <id>', 'the id that the player joined with')
  .addOption(shared.rulebook)
  .action(exitWith(erase))

/** Takes a player's name and id out of a kept record. It still replays, to the same rulings. */
export async function erase(
  file: string,
  { player, rulebook }: { readonly player: string; readonly rulebook?: string },
): Promise<number> {
  const { book } = await openRecord(file, rulebook)
  const isPacked = file.endsWith('.gz')
  const kept = readFileSync(file)
  const erased = erasePlayer(book, (isPacked ? gunzipSync(kept) : kept).toString(), player)
  // The old one stays until the new one is whole.
  writeFileSync(`${file}.new`, isPacked ? gzipSync(erased) : erased, { mode: 0o600 })
  renameSync(`${file}.new`, file)
  print(`The player's name and id are no longer in ${file}. It replays to the same rulings.`)
  return exit.done
}
