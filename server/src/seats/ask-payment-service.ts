import { eq } from 'drizzle-orm';
import { z } from 'zod';
import { onlyOne } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import { sign } from '../http/signature.ts';
import { paymentKey } from '../payment-service/service.ts';

const serviceMilliseconds = 15_000;

/** What it takes to have something paid. */
export type PaymentDeps = Pick<Deps, 'db' | 'settings' | 'now' | 'log'>;

/** A payment that somebody makes on a page of the service. Money in minor units of its currency. */
export interface AskedPage {
  id: string;
  amount: number;
  currency: string;
  title: string;
  payee: string;
  returnUrl: string;
}

/** Asks the service for the page of a payment, and keeps its address. @throws ProblemError `no-payment`. */
export async function askForPage(deps: PaymentDeps, payment: AskedPage): Promise<string> {
  const { page } = await askService(deps, '/payments', z.object({ page: z.url() }), payment);
  await deps.db.update(tables.payment).set({ page }).where(eq(tables.payment.id, payment.id));
  return page;
}

/** Calls the payment service, signed with the key that is shared with it. @throws ProblemError `no-payment` when there is none, or it does not answer. */
export async function askService<T>({ db, settings }: PaymentDeps, at: string, shape: z.ZodType<T>, content: object): Promise<T> {
  if (settings.paymentUrl === null) throw new ProblemError('no-payment');
  const url = new URL(`${settings.paymentUrl}${at}`);
  const { secret } = await onlyOne(
    db.select({ secret: tables.source.secret }).from(tables.source).where(eq(tables.source.key, paymentKey)),
  );
  const body = JSON.stringify(content);
  const time = new Date().toISOString();
  try {
    const answer = await fetch(url, {
      method: 'POST',
      signal: AbortSignal.timeout(serviceMilliseconds),
      headers: {
        'Content-Type': 'application/json',
        'X-Source': 'gate-roster',
        'X-Time': time,
        'X-Signature': sign(secret, { method: 'POST', path: url.pathname, time, body }),
      },
      body,
    });
    if (!answer.ok) throw new Error(`The payment service answered ${answer.status}`);
    return shape.parse(await answer.json());
  } catch (error) {
    throw new ProblemError('no-payment', {}, { cause: error });
  }
}
