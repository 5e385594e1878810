import { migrate } from './database/connect.ts';
import { readEnvironment, withoutSecrets } from './environment.ts';
import { serve } from './serve.ts';

const environment = (() => {
  try {
    return readEnvironment(process.env);
  } catch (error) {
    console.error(error instanceof Error ? error.message : error);
    return process.exit(1);
  }
})();
await migrate(environment.DATABASE_URL, environment.MIGRATIONS_FOLDER);
const running = await serve(environment);
running.deps.log.info({ environment: withoutSecrets(environment), url: running.url }, 'started');
process.send?.({ listening: running.url, port: running.port });

let isStopping = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    if (isStopping) return;
    isStopping = true;
    // A request that hangs does not keep the process for ever: another process takes up what it held.
    setTimeout(() => process.exit(1), environment.STOP_SECONDS * 1000).unref();
    void running.stop().then(() => process.exit(0));
  });
}
