// Packs each published package and checks what it promises to those who import it.
import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { publint } from 'publint'
import { formatMessage } from 'publint/utils'

const root = fileURLToPath(new URL('..', import.meta.url))
let wrong = 0
for (const folder of ['packages/core', 'packages/venue', 'examples', 'packages/cli']) {
  const pkgDir = `${root}${folder}`
  const { messages, pkg } = await publint({ pkgDir, strict: true })
  for (const message of messages) {
    wrong++
    console.error(`${folder}: ${formatMessage(message, pkg)}`)
  }
  const [packed] = JSON.parse(
    execFileSync('npm', ['pack', '--dry-run', '--json', '--ignore-scripts', '--loglevel=error'], {
      cwd: pkgDir,
      encoding: 'utf8',
    }),
  )
  const stray = packed.files
    .map(({ path }) => path)
    .filter((path) => /tsbuildinfo|\.test\.|node_modules/.test(path))
  if (stray.length > 0) {
    wrong++
    console.error(`${folder}: packs ${stray.join(', ')}`)
  }
  console.log(
    `${packed.name} ${packed.version}: ${packed.files.length} files, ${Math.round(packed.size / 1024)} kB packed`,
  )
}
process.exit(wrong === 0 ? 0 : 1)
