import { collectDefaultMetrics, Counter, Histogram, Registry } from 'prom-client';

interface Metrics {
  registry: Registry;
  requests: Histogram<'method' | 'status'>;
  saves: Counter;
  jobs: Counter<'kind' | 'outcome'>;
}

function made(): Metrics {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry, prefix: 'detto_' });
  const registers = [registry];
  return {
    registry,
    requests: new Histogram({
      name: 'detto_request_seconds',
      help: 'Requests to the HTTP interface: seconds until the answer began',
      labelNames: ['method', 'status'],
      buckets: [0.01, 0.03, 0.1, 0.3, 1, 3, 10],
      registers,
    }),
    saves: new Counter({ name: 'detto_saves_total', help: 'Saves of words that were acknowledged', registers }),
    jobs: new Counter({
      name: 'detto_jobs_total',
      help: 'Jobs that this process has ended',
      labelNames: ['kind', 'outcome'],
      registers,
    }),
  };
}

/** One for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoMetrics?: Metrics };

/** What this process counts of itself; where several share the work, each is asked for its own. */
export const metrics = (): Metrics => (shared.dettoMetrics ??= made());
