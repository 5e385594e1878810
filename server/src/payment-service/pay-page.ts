import { showMoney } from '@gate-roster/core';
import { type AskedPayment, type Behaviour, behaviours } from './asked-payment.ts';

const said: Record<Behaviour, string> = {
  paid: 'A card that pays',
  refused: 'A card that is refused',
  later: 'Pays a few seconds later',
  twice: 'Pays, and the service says so three times',
  late: 'Pays a minute later',
  never: 'The service never answers',
  'wrong amount': 'The service names another amount',
  'wrong signature': 'Somebody else answers in the service’s name',
  'renewal fails': 'Pays now, and is refused when it renews',
};

const escape = (text: string): string => text.replace(/[&<>"']/gu, (letter) => `&#${letter.charCodeAt(0)};`);

/** The stand-in's own page. null: there is nothing to pay at this address. */
export function payPage(asked: { payment: AskedPayment; token: string } | null): string {
  const body = asked ? form(asked) : '<h1>Nothing to pay here</h1><p>The address is not one of this service.</p>';
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="color-scheme" content="light dark"><link rel="icon" href="data:,"><title>Payment (stand-in)</title></head><body>${body}</body></html>`;
}

function form({ payment, token }: { payment: AskedPayment; token: string }): string {
  const choices = behaviours.map(
    (how, index) => `<p><label><input type="radio" name="how" value="${how}"${index === 0 ? ' checked' : ''}> ${said[how]}</label></p>`,
  );
  return `<main><h1>Payment (stand-in)</h1><p>No money moves. Choose what a payment service could do.</p><p>${escape(payment.title)}, to ${escape(payment.payee)}</p><p><strong>${escape(showMoney(payment.amount, payment.currency))}</strong></p><form method="post" action="pay"><input type="hidden" name="ask" value="${escape(token)}"><fieldset><legend>Pay with</legend>${choices.join('')}</fieldset><p><button type="submit">Pay</button></p></form></main>`;
}
