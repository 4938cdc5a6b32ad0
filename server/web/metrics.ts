import { Counter, collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import type { Database } from '#server/db/connection';
import { workersAlive } from '#server/db/workers';

/** What the web process counts, and what it looks up, in the open text format for measurements. */
export class Metrics {
  private readonly registry = new Registry();
  private readonly requests = new Counter({
    name: 'stonetray_requests_total',
    help: 'Requests that were answered, by method and status.',
    labelNames: ['method', 'status'],
    registers: [this.registry],
  });
  private readonly seconds = new Histogram({
    name: 'stonetray_request_seconds',
    help: 'How long requests took, seconds; event streams are left out.',
    buckets: [0.01, 0.05, 0.1, 0.5, 1, 5, 30],
    registers: [this.registry],
  });
  private readonly streams = new Gauge({
    name: 'stonetray_event_streams',
    help: 'Event streams that are open.',
    registers: [this.registry],
  });

  constructor(db: Database) {
    collectDefaultMetrics({ register: this.registry });
    new Gauge({
      name: 'stonetray_tasks',
      help: 'Tasks of the last day, by state.',
      labelNames: ['state'],
      registers: [this.registry],
      async collect() {
        this.reset();
        const rows = await db('tasks').groupBy('state').select('state').count('* as count');
        for (const { state, count } of rows) this.set({ state: String(state) }, Number(count));
      },
    });
    new Gauge({
      name: 'stonetray_queue',
      help: 'Jobs in the queue, by kind and state.',
      labelNames: ['kind', 'state'],
      registers: [this.registry],
      async collect() {
        this.reset();
        const { rows } = await db.raw(
          `select name, state::text as state, count(*) as count from pgboss.job where state in ('created', 'retry', 'active') group by 1, 2`,
        );
        for (const { name, state, count } of rows) this.set({ kind: name, state }, Number(count));
      },
    });
    new Gauge({
      name: 'stonetray_workers',
      help: 'Job workers that have answered lately.',
      registers: [this.registry],
      async collect() {
        this.set(await workersAlive(db));
      },
    });
    new Gauge({
      name: 'stonetray_database_connections',
      help: 'Connections to this database, of all processes.',
      registers: [this.registry],
      async collect() {
        const { rows } = await db.raw(
          'select count(*) as count from pg_stat_activity where datname = current_database()',
        );
        this.set(Number(rows[0].count));
      },
    });
  }

  /** @param seconds undefined for an event stream, which is as long as somebody looks */
  answered(method: string, status: number, seconds: number | undefined): void {
    this.requests.inc({ method, status });
    if (seconds !== undefined) this.seconds.observe(seconds);
  }

  streamsOpen(count: number): void {
    this.streams.set(count);
  }

  get type(): string {
    return this.registry.contentType;
  }

  text(): Promise<string> {
    return this.registry.metrics();
  }
}
