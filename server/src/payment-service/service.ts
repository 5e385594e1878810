import { createHmac, randomUUID, timingSafeEqual } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';
import express, { type Request, type Response, type Router } from 'express';
import { z } from 'zod';
import { isSigned, sign } from '../http/signature.ts';
import { askedPayment, type AskedPayment, type Behaviour, behaviours } from './asked-payment.ts';
import { payPage } from './pay-page.ts';

export const paymentKey = 'payments';

const charge = z.object({ id: z.uuid(), amount: z.number().int(), currency: z.string(), mandate: z.string() });

/** Milliseconds after which the slower behaviours answer. */
export const delays = { later: 4000, late: 60_000 };

/**
 * The stand-in for an outside payment service. It keeps nothing: what was asked travels in the address of its page, signed by itself. It
 * knows of Gate Roster only its address and the key they share, and answers over HTTP.
 */
export function paymentService({ gateRoster, secret }: { gateRoster: () => string; secret: string }): Router {
  const router = express.Router();
  const seal = (text: string): string => createHmac('sha256', `${secret}/own`).update(text).digest('base64url');
  const close = (value: unknown): string => {
    const text = Buffer.from(JSON.stringify(value)).toString('base64url');
    return `${text}.${seal(text)}`;
  };
  const open = (token: string): unknown => {
    const [text = '', given = ''] = token.split('.');
    const expected = Buffer.from(seal(text));
    const isOurs = expected.length === given.length && timingSafeEqual(expected, Buffer.from(given));
    return isOurs ? JSON.parse(Buffer.from(text, 'base64url').toString()) : null;
  };
  const json = express.text({ type: 'application/json', limit: '20kb' });
  /** What Gate Roster itself sent; anything else is answered with 401. */
  const fromGateRoster = <T>(shape: z.ZodType<T>, request: Request, response: Response): T | null => {
    const body = typeof request.body === 'string' ? request.body : '';
    const parts = { method: request.method, path: request.originalUrl, time: request.get('x-time') ?? '', body };
    const known = isSigned(secret, parts, request.get('x-signature') ?? '', new Date()) ? shape.safeParse(JSON.parse(body)) : null;
    if (!known?.success) response.status(401).json({ error: 'not signed' });
    return known?.success ? known.data : null;
  };

  router.post('/payments', json, (request, response) => {
    const payment = fromGateRoster(askedPayment, request, response);
    if (payment) response.json({ page: `${gateRoster()}/payment-service/pay?ask=${close(payment)}` });
  });

  router.get('/pay', (request, response) => {
    const token = typeof request.query['ask'] === 'string' ? request.query['ask'] : '';
    const payment = askedPayment.safeParse(open(token));
    response
      .status(payment.success ? 200 : 404)
      .type('html')
      .setHeader('Cache-Control', 'no-store');
    response.send(payPage(payment.success ? { payment: payment.data, token } : null));
  });

  router.post('/pay', express.urlencoded({ extended: false, limit: '20kb' }), async (request, response) => {
    const form = z.object({ ask: z.string(), how: z.enum(behaviours) }).safeParse(request.body);
    const payment = askedPayment.safeParse(form.success ? open(form.data.ask) : null);
    if (!form.success || !payment.success) {
      response.status(404).type('html').send(payPage(null));
      return;
    }
    await play(payment.data, form.data.how);
    response.redirect(303, payment.data.returnUrl);
  });

  router.post('/refunds', json, (request, response) => {
    if (fromGateRoster(z.object({ id: z.uuid(), amount: z.number().int(), currency: z.string() }), request, response))
      response.json({ taken: true });
  });

  // The payer of an earlier payment is asked again, without a page.
  router.post('/charges', json, (request, response) => {
    const asks = fromGateRoster(charge, request, response);
    if (!asks) return;
    const how = z.object({ how: z.enum(behaviours) }).safeParse(open(asks.mandate));
    response.status(202).json({ taken: true });
    void play(asks, how.success && how.data.how !== 'renewal fails' ? 'paid' : 'refused');
  });

  /** Answers as it was chosen; the slow ones answer after whoever pays was sent back. */
  async function play(payment: Pick<AskedPayment, 'id' | 'amount' | 'currency'>, how: Behaviour): Promise<void> {
    const answer = { id: randomUUID(), payment: payment.id, amount: payment.amount, currency: payment.currency };
    const paid = { ...answer, outcome: 'paid', mandate: close({ how }) };
    switch (how) {
      case 'paid':
      case 'renewal fails':
        return send(paid);
      case 'refused':
        return send({ ...answer, outcome: 'refused', mandate: null });
      case 'twice':
        await send(paid);
        await send(paid);
        return send({ ...paid, id: randomUUID() });
      case 'wrong amount':
        return send({ ...paid, amount: payment.amount + 1 });
      case 'wrong signature':
        return send(paid, 'another key');
      case 'later':
      case 'late':
        void wait(delays[how], undefined, { ref: false }).then(() => send(paid));
        return undefined;
      case 'never':
        return undefined;
    }
  }

  /** Gate Roster's answer is no matter to whoever pays; what it refuses is not sent again. */
  async function send(answer: object, key = secret): Promise<void> {
    const at = '/api/v1/source/payments';
    const body = JSON.stringify(answer);
    const time = new Date().toISOString();
    await fetch(gateRoster() + at, {
      method: 'POST',
      headers: {
        'Content-Type': 'application/json',
        'X-Source': paymentKey,
        'X-Time': time,
        'X-Signature': sign(key, { method: 'POST', path: at, time, body }),
      },
      body,
    }).catch(() => undefined);
  }
  return router;
}
