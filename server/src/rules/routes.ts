import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { actsOfRule, rehearse, rulesInScope, whyNot } from './read-rules.ts';

export function ruleHandlers({ db, now }: Deps): Handlers {
  return {
    async rules({ actor, params: { groupId }, query: { subgroups } }) {
      return rulesInScope(db, actor, { groupId, withSubgroups: subgroups === 'yes' });
    },
    async ruleActs({ actor, params: { ruleId }, query: { after } }) {
      return actsOfRule(db, actor, ruleId, after);
    },
    async rehearseRule({ actor, params: { groupId }, body: { values } }) {
      return rehearse(db, actor, groupId, values);
    },
    async whyNot({ actor, params: { ruleId, personId } }) {
      return whyNot(db, actor, ruleId, personId, now());
    },
  };
}
