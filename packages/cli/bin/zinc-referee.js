#!/usr/bin/env node
import { main } from '../dist/main.js'

// A reader such as `head` may have enough before we are done.
process.stdout.on('error', (error) => {
  if (error.code !== 'EPIPE') throw error
  process.exit(0)
})
process.exitCode = await main(process.argv.slice(2))
