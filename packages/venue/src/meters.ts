import { Counter, Gauge, type OpenMetricsContentType, Registry } from 'prom-client'

/** What an operator watches, as OpenMetrics under `/metrics`. Names begin with `zinc_referee_`. */
export interface Meters {
  readonly registry: Registry<OpenMetricsContentType>
  /** Calls by method and outcome: `ok`, or the problem. */
  readonly calls: Counter<'method' | 'outcome'>
  readonly refusedAdmissions: Counter
  readonly refusedConnections: Counter<'why'>
  readonly faults: Counter<'mode'>
  readonly sentBytes: Counter
}

/** Returns meters of their own, and reads the numbers of matches and connections when it is asked. */
export function makeMeters(counts: {
  readonly matches: () => number
  readonly connections: () => number
}): Meters {
  const registry = new Registry<OpenMetricsContentType>()
  registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE)
  const registers = [registry]
  const counter = <L extends string>(name: string, help: string, labelNames: readonly L[] = []): Counter<L> =>
    new Counter({ name: `zinc_referee_${name}`, help, labelNames, registers })
  const gauge = (name: string, help: string, value: () => number): Gauge =>
    new Gauge({
      name: `zinc_referee_${name}`,
      help,
      registers,
      collect() {
        this.set(value())
      },
    })
  gauge('matches', 'Matches that run', counts.matches)
  gauge('connections', 'Open connections', counts.connections)
  return {
    registry,
    calls: counter('calls_total', 'Calls of clients, by method and outcome', ['method', 'outcome']),
    refusedAdmissions: counter('refused_admissions_total', 'Admissions that were not accepted'),
    refusedConnections: counter('refused_connections_total', 'Connections that were not accepted', ['why']),
    faults: counter('faults_total', 'Faults of rules, by mode', ['mode']),
    sentBytes: counter('sent_bytes_total', 'Bytes that were sent to clients'),
  }
}
