import { firstTexts, letterKinds, may } from '@gate-roster/core';
import { pathTo, wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { looksFor } from './letter-look.ts';
import { textsFor } from './write-letters.ts';

/** The texts of letters. */
export function letterHandlers({ db }: Deps): Handlers {
  return {
    async letters({ actor, params: { groupId } }) {
      const path = await pathTo(db, actor, groupId, 'managePeople');
      const tree = await wholeTree(db);
      const letters = await Promise.all(
        letterKinds.map(async (kind) => {
          const own = (await textsFor(db, [groupId], kind)).get(groupId);
          const { subject, body } = own ?? firstTexts[kind];
          const isSeen = own && may(actor, 'see', { path: tree.path(own.fromId) });
          return { kind, subject, body, from: own ? (isSeen ? { id: own.fromId, name: tree.node(own.fromId).name } : null) : null };
        }),
      );
      const look = (await looksFor(db, [groupId])).get(groupId);
      const isLookSeen = look && may(actor, 'see', { path: tree.path(look.fromId) });
      return {
        letters,
        look: {
          senderName: look?.senderName ?? null,
          logoId: look?.logoId ?? null,
          from: isLookSeen ? { id: look.fromId, name: tree.node(look.fromId).name } : null,
        },
        may: { edit: may(actor, 'writeMessages', { path: path.map(({ id }) => id) }) },
      };
    },
  };
}
