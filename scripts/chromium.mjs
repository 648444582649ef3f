// Finds a Chromium for the browser tests and pictures; as root on Debian it installs one that is missing.
import { execFileSync } from 'node:child_process'
import { existsSync } from 'node:fs'

const places = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome']
export const findChromium = () => process.env.CHROMIUM ?? places.find((path) => existsSync(path))

/** Throws with the fix where there is none and none can be installed. */
export function ensureChromium() {
  const found = findChromium()
  if (found !== undefined) return found
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) {
    throw new Error(
      'The browser tests need Chromium. Install it (Debian: apt-get install chromium), name one in CHROMIUM, or leave them out with: npm test -- --no-browser',
    )
  }
  console.error('setting up: Chromium, from Debian’s packages')
  const options = {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  }
  execFileSync('apt-get', ['update', '-qq'], options)
  execFileSync(
    'apt-get',
    ['install', '-y', '-qq', '--no-install-recommends', 'chromium', 'fonts-dejavu-core'],
    options,
  )
  const installed = findChromium()
  if (installed === undefined)
    throw new Error('Chromium was installed but is not where it was expected. Name it in CHROMIUM.')
  return installed
}

export const chromiumArgs = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]
