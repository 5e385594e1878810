import { once } from 'node:events';
import net from 'node:net';
import pg from 'pg';
import { asProblem, notFound } from './problem.ts';

const failureOf = async (work: Promise<unknown>): Promise<unknown> =>
  work.then(
    () => null,
    (error: unknown) => error,
  );

test('whatever `pg` says of a connection that is lost, at any moment, is the database away', async () => {
  // It greets nobody: what connects is cut off.
  const server = net.createServer((socket) => socket.destroy()).listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as net.AddressInfo;
  const client = (): pg.Client => new pg.Client({ host: '127.0.0.1', port, user: 'nobody', password: 'none' });
  const cut = client();
  cut.on('error', () => undefined);
  const failures = [await failureOf(cut.connect())];
  server.close();
  await once(server, 'close');
  const refused = client();
  refused.on('error', () => undefined);
  failures.push(await failureOf(refused.connect()), await failureOf(refused.query('select 1')));
  refused.end().catch(() => undefined);
  failures.push(await failureOf(refused.query('select 1')));
  const writable = new net.Socket();
  writable.destroy();
  failures.push(await new Promise((resolve) => writable.write('x', resolve)));
  for (const failure of failures) {
    expect([asProblem(failure).code, (failure as Error).message]).toEqual(['database-away', expect.any(String)]);
    expect(asProblem(new Error('Failed query', { cause: failure })).code).toBe('database-away');
  }
  expect(asProblem(new Error('something else')).code).toBe('failed');
  expect(asProblem(notFound()).code).toBe('not-found');
});
