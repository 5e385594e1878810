import type { Problem } from '@gate-roster/contract';
import { once } from 'node:events';
import net from 'node:net';
import { connect } from './database/connect.ts';
import { startSite } from './testing/site.ts';

test('the database goes away under a running server: a clear 503, and back by itself', async () => {
  const sockets = new Set<net.Socket>();
  let isCut = false;
  let proxy: net.Server | null = null;
  const site = await startSite({
    through: async (url) => {
      const target = new URL(url);
      const databasePort = Number(target.port);
      proxy = net.createServer((inside) => {
        if (isCut) {
          inside.destroy();
          return;
        }
        const outside = net.connect(databasePort, target.hostname);
        for (const socket of [inside, outside]) {
          sockets.add(socket);
          socket
            .on('error', () => undefined)
            .on('close', () => {
              inside.destroy();
              outside.destroy();
            });
        }
        inside.pipe(outside).pipe(inside);
      });
      await once(proxy.listen(0, '127.0.0.1'), 'listening');
      target.port = String((proxy.address() as net.AddressInfo).port);
      return target.href;
    },
  });
  try {
    const mirela = await site.as('mirela');
    isCut = true;
    for (const socket of sockets) socket.destroy();
    for (const name of ['tree', 'health'] as const) {
      const answer = await mirela.send(name);
      expect([answer.status, ((await answer.json()) as Problem).code]).toEqual([503, 'database-away']);
    }
    isCut = false;
    await expect(mirela.call('tree', {})).resolves.toMatchObject({ groups: expect.any(Array) as unknown[] });
    // The announcements are listened to again as well, once the server has found the way back: until then none arrives.
    const stream = await mirela.send('live');
    const reader = stream.body?.pipeThrough(new TextDecoderStream()).getReader();
    let heard = '';
    const hasHeard = (): boolean => heard.includes('event: changed');
    const listening = (async () => {
      for (let isOver = false; !isOver && !hasHeard();) {
        const part = await reader?.read();
        isOver = part?.done !== false;
        heard += part?.value ?? '';
      }
    })();
    for (let n = 0; !hasHeard(); n++) {
      // Within twenty seconds and the time of the changes, which is long even on a busy machine.
      expect(n).toBeLessThan(40);
      await mirela.apply({ kind: 'edit-group', groupId: 3, values: { name: `Gullhaven ${n}` } });
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
    await listening;
    await reader?.cancel();
  } finally {
    await site.stop();
    (proxy as net.Server | null)?.close();
  }
});

test('a connection that breaks as a transaction begins goes back to the pool, which else would run dry', async () => {
  const { pool, db } = connect(process.env['TEST_POSTGRES'] ?? '', { most: 2 });
  try {
    let isCut = true;
    pool.on('acquire', (client) => {
      if (isCut) (client as unknown as { connection: { stream: net.Socket } }).connection.stream.destroy();
    });
    for (let n = 0; n < 5; n++) await expect(db.transaction(() => Promise.resolve())).rejects.toThrow();
    isCut = false;
    await expect(db.transaction(() => Promise.resolve('once more'))).resolves.toBe('once more');
    expect(pool.totalCount - pool.idleCount).toBe(0);
  } finally {
    await pool.end();
  }
});
