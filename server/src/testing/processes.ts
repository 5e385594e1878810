import { type ChildProcess, fork } from 'node:child_process';
import { once } from 'node:events';
import http from 'node:http';
import net, { type AddressInfo } from 'node:net';
import path from 'node:path';
import { pipeline } from 'node:stream';
import { metricsKey } from './site.ts';

/* The server as its own processes, as it is run for real, behind a balancer. */

export interface ServerProcess {
  child: ChildProcess;
  url: string;
  port: number;
  /** As the system does it when memory runs out. */
  kill: () => Promise<void>;
}

export async function startProcess(databaseUrl: string, role: 'web' | 'worker' | 'all', publicUrl?: string): Promise<ServerProcess> {
  const child = fork(path.join(import.meta.dirname, '../../dist/main.js'), {
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      PORT: '0',
      ROLE: role,
      METRICS_KEY: metricsKey,
      LOG_LEVEL: 'error',
      WEB_FOLDER: '',
      NODE_OPTIONS: '',
      ...(publicUrl ? { PUBLIC_URL: publicUrl } : {}),
    },
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  const [{ port }] = (await once(child, 'message')) as [{ port: number }];
  return {
    child,
    port,
    url: `http://127.0.0.1:${port}`,
    async kill() {
      const gone = once(child, 'exit');
      child.kill('SIGKILL');
      await gone;
    },
  };
}

/** Sends each request to the next process; one that does not answer is left out. */
export async function startBalancer(ports: () => readonly number[]): Promise<{ url: string; stop: () => void }> {
  let next = 0;
  const server = http.createServer((request, response) => {
    const list = ports();
    const port = list[next++ % list.length];
    const onward = http.request(
      { port, host: '127.0.0.1', path: request.url, method: request.method, headers: request.headers },
      (answer) => {
        response.writeHead(answer.statusCode ?? 502, answer.headers);
        // A process that dies in the middle of its answer cuts the answer off, and the client that waits for the rest is told.
        pipeline(answer, response, () => undefined);
      },
    );
    onward.on('error', () => {
      if (!response.headersSent) {
        response.writeHead(502);
        response.end();
      } else response.destroy();
    });
    request.pipe(onward);
    response.on('close', () => onward.destroy());
  });
  await new Promise<void>((resolve) => {
    server.listen(0, '127.0.0.1', resolve);
  });
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    stop: () => {
      server.close();
      server.closeAllConnections();
    },
  };
}

/** A way to the database that can be cut, as when it is stopped and started again. */
export async function startDatabaseWay(
  databaseUrl: string,
): Promise<{ url: string; cutFor: (milliseconds: number) => Promise<void>; stop: () => void }> {
  const to = new URL(databaseUrl);
  const sockets = new Set<net.Socket>();
  let isCut = false;
  const server = net.createServer((socket) => {
    if (isCut) {
      socket.destroy();
      return;
    }
    const onward = net.connect(Number(to.port), to.hostname);
    for (const each of [socket, onward]) {
      sockets.add(each);
      each.on('close', () => sockets.delete(each));
      each.on('error', () => each.destroy());
    }
    socket.pipe(onward).pipe(socket);
    socket.on('close', () => onward.destroy());
    onward.on('close', () => socket.destroy());
  });
  await new Promise<void>((resolve) => {
    server.listen(0, '127.0.0.1', resolve);
  });
  const url = new URL(databaseUrl);
  url.host = `127.0.0.1:${(server.address() as AddressInfo).port}`;
  const cut = (): void => {
    for (const socket of sockets) socket.destroy();
  };
  return {
    url: url.href,
    async cutFor(milliseconds) {
      isCut = true;
      cut();
      await new Promise((resolve) => setTimeout(resolve, milliseconds));
      isCut = false;
    },
    stop: () => {
      server.close();
      cut();
    },
  };
}
