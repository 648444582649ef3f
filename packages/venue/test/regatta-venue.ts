import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { reedRegatta } from '@zinc-referee/examples'
import { openVenue } from '@zinc-referee/venue'

/** A venue with one regatta, whose records are in a new folder. */
export async function regattaVenue() {
  const folder = mkdtempSync(join(tmpdir(), 'venue-'))
  const venue = await openVenue({ records: folder })
  venue.begin('one', reedRegatta, { seed: 'fair-1', settings: { phases: { countdown: 30 } } })
  return { venue, folder }
}
