import { eq, isNull, sql } from 'drizzle-orm';
import { seenGroups } from '../accounts/reach.ts';
import { noteAct } from '../changes/note-act.ts';
import { onlyOne } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { pathTo, wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { sourceOf } from '../http/signed-source.ts';
import { csvOf } from '../http/table.ts';
import { paymentKey } from '../payment-service/service.ts';
import { seatsWith } from './change-licences.ts';
import { withMore } from './change-orders.ts';
import { invoiceFile } from './invoices.ts';
import { ledgerLines, ledgerSum, ledgerTable } from './ledger.ts';
import { maybeOrder, mayWithOrder, pricedLicence, priceOfOrder } from './orders.ts';
import { beginPayment, takeAnswer } from './pay.ts';
import { ordersIn, ordersTable } from './read-orders.ts';

const knownCurrencies = new Set(Intl.supportedValuesOf('currency'));

export function orderHandlers(deps: Deps): Handlers {
  const { db } = deps;
  return {
    async orders({ actor, params: { groupId }, query: { list, after } }) {
      await pathTo(db, actor, groupId, 'orderSeats');
      return { ...(await ordersIn(db, actor, groupId, { list, after: after ?? null })), mayOrder: deps.settings.paymentUrl !== null };
    },

    async ordersFile({ actor, params: { groupId } }) {
      await pathTo(db, actor, groupId, 'orderSeats');
      await pathTo(db, actor, groupId, 'export');
      return csvOf(ordersTable((await ordersIn(db, actor, groupId, { list: 'all', limit: null })).orders));
    },

    async orderPrice({ actor, params: { groupId }, query: { licence, seats } }) {
      const path = await pathTo(db, actor, groupId, 'orderSeats');
      const priced = await pricedLicence(db, licence);
      const home = await db
        .select({ id: tables.licenceNow.groupId })
        .from(tables.licenceNow)
        .where(eq(tables.licenceNow.licenceId, licence));
      if (!priced || priced.price === null || !home.every(({ id }) => path.some((step) => step.id === id))) throw notFound();
      const { price, vatRate, currency, needsApproval } = priced;
      const tree = await wholeTree(db);
      const own = await seenGroups(db, actor);
      const { fromLine } = await seatsWith(
        { db, tree, today: actor.today, seen: own === null ? null : (id) => own.has(id) },
        withMore(
          licence,
          path.map(({ id }) => id),
          seats,
        ),
        {},
      );
      return { ...priceOfOrder({ seats, price, vatRate }), currency, vatRate, needsApproval, served: new Set(fromLine).size };
    },

    async payOrder({ actor, params: { orderId }, body: { requestId } }) {
      return { page: await beginPayment(deps, actor, orderId, requestId) };
    },

    async orderPaper({ actor, params: { orderId, number }, query: { paper } }) {
      const order = found(await maybeOrder(db, orderId));
      const tree = await wholeTree(db);
      if (!mayWithOrder(actor, tree.has(order.groupId) ? tree.path(order.groupId) : [], order).see) throw notFound();
      const content = found(await invoiceFile(db, { orderId }, number, paper));
      return { fileName: `${number}.pdf`, mimeType: 'application/pdf', isPicture: false, content };
    },

    async paymentAnswer({ request, body }) {
      if ((await sourceOf(deps, request)).key !== paymentKey) throw new ProblemError('bad-signature');
      await takeAnswer(deps, body);
    },

    async ledger({ actor, params: { groupId }, query: { after, ...filter } }) {
      await pathTo(db, actor, groupId, 'handOutSeats');
      const page = await ledgerLines(db, actor, groupId, filter, { after: after ?? null });
      return { ...page, inUse: await ledgerSum(db, actor, groupId, filter.licence) };
    },

    async ledgerFile({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'handOutSeats');
      await pathTo(db, actor, groupId, 'export');
      return csvOf(ledgerTable((await ledgerLines(db, actor, groupId, query, { limit: null })).lines));
    },

    async ledgerJson({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'handOutSeats');
      await pathTo(db, actor, groupId, 'export');
      return { lines: (await ledgerLines(db, actor, groupId, query, { limit: null })).lines };
    },

    async billing() {
      return onlyOne(
        db
          .select({
            currency: tables.billing.currency,
            vatRate: tables.billing.vatRate,
            sellerName: tables.billing.sellerName,
            sellerAddress: tables.billing.sellerAddress,
            vatNumber: tables.billing.vatNumber,
            foot: tables.billing.foot,
          })
          .from(tables.billing),
      );
    },

    async editBilling({ actor, body }) {
      if (!knownCurrencies.has(body.currency))
        throw new ProblemError('bad-request', { where: [{ place: 'body.currency', what: 'Unknown currency' }] });
      await db.transaction(async (tx) => {
        await tx.execute(
          sql`update billing set currency = ${body.currency}, vat_rate = ${body.vatRate}, seller_name = ${body.sellerName}, seller_address = ${body.sellerAddress}, vat_number = ${body.vatNumber}, foot = ${body.foot}`,
        );
        const roots = await tx.select({ id: tables.groupNow.id }).from(tables.groupNow).where(isNull(tables.groupNow.parentId));
        await noteAct(
          tx,
          actor.personId,
          'edit-site',
          [],
          roots.map(({ id }) => id),
        );
      });
    },
  };
}
