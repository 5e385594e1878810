import pg from 'pg';
import type { Logger } from 'pino';

const retryMilliseconds = 1000;
/** A connection that is neither made nor refused is given up after this. */
const connectMilliseconds = 5000;

export interface Listening {
  /** Done when it was tried for the first time. */
  begun: Promise<void>;
  /** Is everything heard that is announced now? */
  isHearing: () => boolean;
  stop: () => Promise<void>;
}

/**
 * Hears what is announced on a channel, on a connection of its own that is made again whenever it breaks.
 * @param heard Is called with each announcement.
 * @param again Is called whenever it hears again after a break: what was announced meanwhile is lost.
 */
export function listenTo(
  { url, channel, log }: { url: string; channel: string; log: Logger },
  heard: (text: string) => void,
  again: () => void,
): Listening {
  let client: pg.Client | null = null;
  let isHearing = false;
  let isStopped = false;
  let timer: NodeJS.Timeout | null = null;

  async function listen(): Promise<void> {
    const fresh = new pg.Client({ connectionString: url, connectionTimeoutMillis: connectMilliseconds, keepAlive: true });
    client = fresh;
    fresh.on('error', () => undefined);
    fresh.on('end', () => {
      if (isHearing && client === fresh) retry();
    });
    fresh.on('notification', ({ payload = '' }: pg.Notification) => {
      heard(payload);
    });
    try {
      await fresh.connect();
      await fresh.query(`listen ${channel}`);
      isHearing = true;
    } catch (error) {
      log.warn({ err: error }, `cannot listen on ${channel}; trying again`);
      // Not waited for: a connection that broke off halfway may never say that it has ended.
      void fresh.end().catch(() => undefined);
      retry();
    }
  }
  function retry(): void {
    isHearing = false;
    if (isStopped) return;
    timer = setTimeout(() => {
      void listen().then(() => {
        if (isHearing) again();
      });
    }, retryMilliseconds).unref();
  }
  return {
    begun: listen(),
    isHearing: () => isHearing,
    async stop() {
      isStopped = true;
      if (timer) clearTimeout(timer);
      await client?.end().catch(() => undefined);
      isHearing = false;
    },
  };
}
