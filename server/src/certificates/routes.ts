import type { SentFile } from '@gate-roster/contract';
import { certificateNumberOf } from '@gate-roster/core';
import { eq } from 'drizzle-orm';
import { slowDown } from '../accounts/slow-down.ts';
import * as tables from '../database/schema.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { makeFile } from '../print/make-file.ts';
import { printedCertificates } from './certificate-file.ts';
import { certificatesIn, checkedCertificate, holdersOf, myCertificates, ownCertificate, rowsToPrint } from './read-certificates.ts';

const checksPerAddress = { points: 60, seconds: 600 };

export function certificateHandlers(deps: Deps): Handlers {
  const { db, settings, now } = deps;
  const checks = slowDown(deps.pool, 'certificate', checksPerAddress);
  const pdf = async (rowIds: number[], title: string, paper: 'A4' | 'Letter'): Promise<SentFile> => ({
    fileName: `${title.replace(/[^\p{L}\p{N} -]/gu, '')}.pdf`,
    mimeType: 'application/pdf',
    isPicture: false,
    content: await makeFile('certificates', await printedCertificates(db, rowIds), { paper, publicUrl: settings.publicUrl }),
  });
  return {
    async certificates({ actor, params: { groupId }, query: { subgroups } }) {
      await pathTo(db, actor, groupId, 'markWork');
      return certificatesIn(db, actor, { groupId, withSubgroups: subgroups === 'yes' });
    },

    async certificateHolders({ actor, params: { groupId, formId }, query: { subgroups, list, after } }) {
      await pathTo(db, actor, groupId, 'markWork');
      return holdersOf(db, actor, { groupId, withSubgroups: subgroups === 'yes' }, formId, { list, after: after ?? 0 });
    },

    async certificatesFile({ actor, params: { groupId, formId }, query: { subgroups, paper, number } }) {
      await pathTo(db, actor, groupId, 'markWork');
      const { rowIds, title } = await rowsToPrint(db, actor, { groupId, withSubgroups: subgroups === 'yes' }, formId, number);
      return pdf(rowIds, title, paper);
    },

    async myCertificates({ actor }) {
      return myCertificates(db, actor);
    },

    async myCertificateFile({ actor, params: { number }, query: { paper } }) {
      const { id, title } = await ownCertificate(db, actor.personId, number);
      return pdf([id], title, paper);
    },

    async showMyName({ actor, params: { number }, body: { shown } }) {
      const { id } = await ownCertificate(db, actor.personId, number);
      await db.update(tables.certificate).set({ nameShown: shown }).where(eq(tables.certificate.rowId, id));
      return {};
    },

    async checkCertificate({ request, params: { number } }) {
      // Malformed numbers use up a try just like wrong ones, so that guessing is slowed down.
      const address = request.ip ?? '';
      await checks.take(address);
      const checked = await checkedCertificate(db, certificateNumberOf(number) ?? '', now());
      await checks.giveBack(address);
      return checked;
    },
  };
}
