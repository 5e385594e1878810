import { z } from 'zod';

/** How the stand-in answers, as whoever pays chooses on its page. */
export const behaviours = [
  'paid',
  'refused',
  'later',
  'twice',
  'late',
  'never',
  'wrong amount',
  'wrong signature',
  'renewal fails',
] as const;
export type Behaviour = (typeof behaviours)[number];

/** What Gate Roster asks to be paid. `amount`: in minor units. */
export const askedPayment = z.object({
  id: z.uuid(),
  amount: z.number().int().min(0),
  currency: z.string(),
  title: z.string(),
  payee: z.string(),
  returnUrl: z.url(),
});
export type AskedPayment = z.output<typeof askedPayment>;
