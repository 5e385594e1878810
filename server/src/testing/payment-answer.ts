import { randomUUID } from 'node:crypto';
import { sign } from '../http/signature.ts';
import { execute, type Site } from './site.ts';

export interface SaidOfPayment {
  payment: string;
  amount: number;
  outcome: 'paid' | 'refused';
  id?: string;
}

/** What the payment service could send about a payment, signed as it signs. @returns The status that it is answered with. */
export async function sayOfPayment(site: Site, { id = randomUUID(), ...answer }: SaidOfPayment, key?: string): Promise<number> {
  const [known] = await execute<{ secret: string }>(site.databaseUrl, `select secret from source where key = 'payments'`);
  const body = JSON.stringify({ id, currency: 'EUR', mandate: null, ...answer });
  const [path, time] = ['/api/v1/source/payments', new Date().toISOString()];
  const signature = sign(key ?? known?.secret ?? '', { method: 'POST', path, time, body });
  const headers = { 'Content-Type': 'application/json', 'X-Source': 'payments', 'X-Time': time, 'X-Signature': signature };
  return (await fetch(site.url + path, { method: 'POST', headers, body })).status;
}
