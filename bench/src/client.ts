import { type Answer, type Given, type RouteName, type Routes, routes, type Change } from '@gate-roster/contract';

/** A caller of the real HTTP interface, with a session. */
export class Client {
  readonly #url: string;
  #cookie = '';

  constructor(url: string) {
    this.#url = url;
  }

  get cookie(): string {
    return this.#cookie;
  }

  async call<N extends RouteName>(name: N, given: Given<Routes[N]>): Promise<Answer<Routes[N]>> {
    const {
      params = {},
      query = {},
      body,
    } = given as { params?: Record<string, unknown>; query?: Record<string, unknown>; body?: unknown };
    const path = routes[name].path.replace(/:(\w+)/gu, (_, key: string) => String(params[key]));
    const search = new URLSearchParams(Object.fromEntries(Object.entries(query).map(([key, value]) => [key, String(value)]))).toString();
    const response = await fetch(`${this.#url}${path}?${search}`, {
      method: routes[name].method,
      headers: { cookie: this.#cookie, 'content-type': 'application/json' },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const text = await response.text();
    if (!response.ok) throw new Error(`${name}: ${response.status} ${text}`);
    this.#cookie = response.headers.get('set-cookie')?.split(';')[0] ?? this.#cookie;
    return (text === '' ? undefined : JSON.parse(text)) as Answer<Routes[N]>;
  }

  /** Looks and applies exactly what was seen. @returns The change's id. */
  async apply(change: Change): Promise<number> {
    const { digest } = await this.call('look', { body: { change } });
    return (await this.call('apply', { body: { change, digest, requestId: crypto.randomUUID() } })).changeId;
  }
}
