import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { z } from 'zod';
import { log, messageOf } from '../log';
import type { Change, ChangeReceiver, ChangesPort } from '../ports/changes';

const CHANNEL = 'detto_changes';
/** Milliseconds between two attempts to listen again; each counts as a change, since what is said meanwhile is missed. */
const RETRY_MS = 2_000;

const Notice = z.object({
  from: z.string(),
  collectionId: z.string(),
  pictures: z.array(z.number()).nullable(),
});

/**
 * Carries changes by `LISTEN` and `NOTIFY` of the PostgreSQL server that all processes share. While the connection is lost,
 * receivers learn at every attempt that they may have missed something.
 */
export class ChangeNotices implements ChangesPort {
  private readonly own = randomUUID();
  private client: pg.Client | null = null;
  private timer: NodeJS.Timeout | null = null;
  private isClosed = false;

  constructor(
    private readonly settings: pg.ClientConfig,
    private readonly pool: Pick<pg.Pool, 'query'>,
    private readonly receiver: ChangeReceiver,
  ) {}

  async listen(): Promise<void> {
    const client = new pg.Client(this.settings);
    client.on('error', (error) => this.lost(client, error));
    client.on('end', () => this.lost(client, new Error('it ended')));
    client.on('notification', ({ payload }) => this.take(payload ?? ''));
    this.client = client;
    await client.connect();
    await client.query(`listen ${CHANNEL}`);
  }

  private take(payload: string): void {
    const { success, data } = Notice.safeParse(parsed(payload));
    if (success && data.from !== this.own)
      this.receiver.receive({ collectionId: data.collectionId, pictures: data.pictures });
  }

  private lost(client: pg.Client, error: Error): void {
    if (this.isClosed || this.client !== client) return;
    log.warn({ message: messageOf(error) }, 'changes of other processes are not heard at the moment');
    this.client = null;
    void client.end().catch(() => undefined);
    this.again();
  }

  private again(): void {
    this.receiver.missed();
    this.timer = setTimeout(() => {
      if (this.isClosed) return;
      this.listen().then(
        () => this.receiver.missed(),
        () => {
          this.client = null;
          this.again();
        },
      );
    }, RETRY_MS).unref();
  }

  send(change: Change): void {
    const notice: z.infer<typeof Notice> = {
      from: this.own,
      ...change,
      pictures: change.pictures && [...change.pictures],
    };
    this.pool
      .query('select pg_notify($1, $2)', [CHANNEL, JSON.stringify(notice)])
      .catch((error: unknown) =>
        log.warn({ message: messageOf(error) }, 'a change was not carried to other processes'),
      );
  }

  async close(): Promise<void> {
    this.isClosed = true;
    if (this.timer) clearTimeout(this.timer);
    await this.client?.end().catch(() => undefined);
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
