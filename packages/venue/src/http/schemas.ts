import { z } from 'zod'
import type { MatchOptions } from '../matches/index.ts'

/** A body that begins a match. */
export interface NewMatch extends MatchOptions {
  readonly mode: string
  readonly id?: string
}

const newMatch = z.strictObject({
  mode: z.string().min(1).max(200).describe('The name of a rulebook that the venue was opened with.'),
  id: z
    .string()
    .regex(/^[\w-]{1,64}$/)
    .optional()
    .describe('The id by which clients join it. Default: a code of six letters and digits.'),
  seed: z.string().max(200).optional().describe('The seed of its chance. Default: random.'),
  settings: z
    .record(z.string(), z.record(z.string(), z.unknown()))
    .optional()
    .describe('Settings by rule. They override those of the rulebook.'),
  with: z.array(z.string()).optional().describe('The optional rules that it uses.'),
  spectatorDelay: z.int().min(0).optional().describe('Delay for spectators, in ms. Default: 0.'),
  listed: z
    .boolean()
    .optional()
    .describe('If false, it is not listed, and only who knows its id joins it. Default: true.'),
  led: z.boolean().optional().describe('If true, the first seat that is here leads it. Default: true.'),
  emptyFor: z
    .int()
    .min(1)
    .nullable()
    .optional()
    .describe('How long it goes on without anybody, in ms; null: for ever. Default: 60,000.'),
  filled: z
    .boolean()
    .optional()
    .describe('If true, bots take empty seats when nobody else has come for a while. Default: true.'),
})

const count = z.int().min(0)
const summary = z.object({
  id: z.string().describe('The id by which clients join it.'),
  mode: z.string().describe('The name of its rulebook.'),
  phase: z.string().describe('lobby, countdown, live, break or over.'),
  seats: z
    .object({ taken: count, bots: count, free: count })
    .describe('Seats of players, of bots, and those that a player can get.'),
  time: z.number().describe('Match time, in ms.'),
})
const details = summary.extend({
  players: z
    .array(z.object({ seat: z.string(), name: z.string(), presence: z.string(), bot: z.boolean() }))
    .optional()
    .describe('Who sits in it.'),
  organiser: z.string().nullable().optional().describe('The seat that leads it, if it is led.'),
  faults: count.optional().describe('How often code of its rulebook has thrown.'),
})
const problemSchema = z.object({ status: z.int(), code: z.string(), title: z.string(), detail: z.string() })

/** As JSON Schema, for the checks and the document. */
const json = (schema: z.ZodType): object => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema)
  return rest
}
export const newMatchSchema: object = json(newMatch)
export const summarySchema: object = json(summary)
export const detailsSchema: object = json(details)
export const problemAnswer = (description: string): object => ({
  description,
  content: { 'application/problem+json': { schema: json(problemSchema) } },
})
