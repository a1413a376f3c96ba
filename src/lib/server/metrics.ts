import { Counter, Gauge, Histogram, Registry, collectDefaultMetrics } from 'prom-client';

/** What the server counts of itself, in the format that Prometheus reads (prometheus.io, “Exposition formats”). */
export const registry = new Registry();
collectDefaultMetrics({ register: registry, prefix: 'lodestone_' });

const requests = new Histogram({
  name: 'lodestone_request_seconds',
  help: 'Time until the answer to a request began, by route.',
  labelNames: ['method', 'route', 'status'],
  buckets: [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10],
  registers: [registry]
});

const slowQueries = new Counter({
  name: 'lodestone_slow_queries_total',
  help: 'Queries that took longer than they should; the log has them.',
  registers: [registry]
});

const jobs = new Counter({
  name: 'lodestone_jobs_total',
  help: 'Backups and tidying done by this server, by queue and by how each ended.',
  labelNames: ['queue', 'ended'],
  registers: [registry]
});

const ofReplica = new Counter({
  name: 'lodestone_replica_reads_total',
  help: 'Reads sent to the replica: it answered, was behind, or failed. The database then answers instead.',
  labelNames: ['came'],
  registers: [registry]
});

/** Counts a request that was answered. @param route as the application names it: an address would be one of very many */
export const countRequest = (method: string, route: string, status: number, seconds: number): void =>
  requests.observe({ method, route, status: String(status) }, seconds);

export const countJob = (queue: string, ended: 'done' | 'failed'): void => jobs.inc({ queue, ended });

export const countOfReplica = (came: 'answered' | 'behind' | 'failed'): void => ofReplica.inc({ came });

export const countSlowQuery = (): void => slowQueries.inc();

/** A figure that is looked at when it is asked for. */
export function gauge(name: string, help: string, look: () => number): void {
  registry.removeSingleMetric(`lodestone_${name}`);
  new Gauge({
    name: `lodestone_${name}`,
    help,
    registers: [registry],
    collect() {
      this.set(look());
    }
  });
}
