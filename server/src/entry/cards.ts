import type { SignInCard } from '@gate-roster/contract';
import { type AccountFacts, mayActOnAccount, type Tree } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { hashOf, makeToken, makeWord, showWord, wordHash } from '../accounts/tokens.ts';
import { noteAct } from '../changes/note-act.ts';
import { type Database, ids, iso, type Queryable, rows, texts } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';

const cardDays = 30;
/** A lasting card works until another one replaces it. */
const lastingYears = 20;

interface Holder {
  person_id: number;
  name: string;
  sign_in_name: string;
  role: AccountFacts['role'];
  leads: boolean;
  groups: number[];
  group_names: string;
  /** The highest group marked young learners among theirs and above; null: the card works once. */
  young_group: number | null;
  has_card: boolean;
}

/** Of somebody wholly within the actor's branches, so every name may be told. */
const groupNames = (person: SQL): SQL => sql`
  (select coalesce(string_agg(g.name, ', ' order by m.row_id), '') from membership m join group_now g on g.id = m.group_id where m.person_id = ${person} and m.until_at is null)`;

export interface CardsAhead {
  holders: Holder[];
  notYours: number;
  replaced: number;
}

/** Whose cards the actor may make: of people wholly where they manage people, who have no power. One statement for all. */
export async function cardsAhead(db: Queryable, actor: SignedIn, tree: Tree, personIds: readonly number[]): Promise<CardsAhead> {
  const wanted = new Set(personIds);
  const found = await rows<Holder>(
    db,
    sql`
    select p.id as person_id, trim(n.given_name || ' ' || n.family_name) as name, coalesce(n.sign_in_name::text, '') as sign_in_name, p.role,
      exists (select 1 from leadership l where l.person_id = p.id and l.until_at is null) as leads,
      array(select group_id from membership where person_id = p.id and until_at is null) as groups, ${groupNames(sql`p.id`)} as group_names,
      (select b.ancestor_id from membership m join group_branch b on b.group_id = m.group_id join group_now y on y.id = b.ancestor_id
        where m.person_id = p.id and m.until_at is null and y.young_learners order by (select count(*) from group_branch u where u.group_id = b.ancestor_id), b.ancestor_id limit 1) as young_group,
      exists (select 1 from one_time_link c where c.person_id = p.id and c.kind <> 'link' and c.used_at is null and c.ends_at > now()) as has_card
    from person p join personal_now n on n.person_id = p.id join person_state s on s.person_id = p.id and s.until_at is null and s.state in ('active', 'paused')
    where p.id = any(${ids(wanted)}) and p.erased_at is null order by n.family_name collate people_order, n.given_name collate people_order, p.id`,
  );
  const holders = found.filter(({ person_id, role, leads, groups }) =>
    mayActOnAccount(actor, { personId: person_id, role, leads, paths: groups.map((id) => (tree.has(id) ? tree.path(id) : [])) }),
  );
  return { holders, notYours: wanted.size - holders.length, replaced: holders.filter(({ has_card }) => has_card).length };
}

/** Makes the cards; those made before are worthless, and whoever is signed in by one is out. */
export async function makeCards(
  db: Database,
  actor: SignedIn,
  tree: Tree,
  personIds: readonly number[],
  { publicUrl, now }: { publicUrl: string; now: Date },
): Promise<{ cards: SignInCard[]; notYours: number; replaced: number }> {
  return db.transaction(async (tx) => {
    const ahead = await cardsAhead(tx, actor, tree, personIds);
    const owners = ids(ahead.holders.map(({ person_id }) => person_id));
    await tx.execute(sql`delete from one_time_link where kind <> 'link' and person_id = any(${owners})`);
    await tx.execute(sql`delete from session where sess ? 'card' and (sess ->> 'personId')::bigint = any(${owners})`);
    const made = ahead.holders.map((holder) => ({ holder, ...makeToken(), word: makeWord() }));
    const ends = (holder: Holder): Date =>
      new Date(now.getTime() + (holder.young_group === null ? cardDays : lastingYears * 365) * 86_400_000);
    await tx.execute(sql`
      insert into one_time_link (hash, person_id, ends_at, kind, group_id, made_by, word_hash)
      select hash, person_id, ends_at, case when group_id is null then 'card' else 'lasting' end, group_id, ${actor.personId}, word_hash
      from jsonb_to_recordset(${JSON.stringify(made.map(({ holder, hash, word }) => ({ hash, word_hash: wordHash(word), person_id: holder.person_id, ends_at: ends(holder).toISOString(), group_id: holder.young_group })))}::jsonb)
        as r(hash text, word_hash text, person_id bigint, ends_at timestamptz, group_id bigint)`);
    if (made.length > 0)
      await noteAct(
        tx,
        actor.personId,
        'print-cards',
        made.map(({ holder }) => holder.person_id),
        [...new Set(made.flatMap(({ holder }) => holder.groups))],
      );
    return {
      cards: made.map(({ holder, token, word }) => ({
        personId: holder.person_id,
        name: holder.name,
        signInName: holder.sign_in_name,
        group: holder.group_names,
        word: showWord(word),
        token,
        link: `${publicUrl}/enter#${token}`,
        isLasting: holder.young_group !== null,
        until: holder.young_group === null ? ends(holder).toISOString() : null,
      })),
      notYours: ahead.notYours,
      replaced: ahead.replaced,
    };
  });
}

/** Cards by what stands on them, for printing, in the order given; only those that the actor made and that still work. @throws ProblemError `not-found` when one does not. */
export async function cardsToPrint(
  db: Queryable,
  actor: SignedIn,
  printed: readonly { token: string; word: string }[],
  publicUrl: string,
): Promise<Omit<SignInCard, 'personId'>[]> {
  const byHash = new Map(printed.map((card) => [hashOf(card.token), card]));
  const found = await rows<{
    hash: string;
    name: string;
    sign_in_name: string;
    group_names: string;
    word_hash: string;
    kind: string;
    ends_at: string;
  }>(
    db,
    sql`
    select c.hash, trim(n.given_name || ' ' || n.family_name) as name, coalesce(n.sign_in_name::text, '') as sign_in_name, ${groupNames(sql`c.person_id`)} as group_names, c.word_hash, c.kind, c.ends_at
    from one_time_link c join personal_now n on n.person_id = c.person_id
    where c.hash = any(${texts(byHash.keys())}) and c.kind <> 'link' and c.made_by = ${actor.personId} and c.used_at is null and c.ends_at > now()`,
  );
  const standing = new Map(found.map((card) => [card.hash, card]));
  return [...byHash].map(([hash, { token, word }]) => {
    const card = standing.get(hash);
    if (!card || card.word_hash !== wordHash(word)) throw notFound();
    return {
      name: card.name,
      signInName: card.sign_in_name,
      group: card.group_names,
      word,
      token,
      link: `${publicUrl}/enter#${token}`,
      isLasting: card.kind === 'lasting',
      until: card.kind === 'lasting' ? null : iso(card.ends_at),
    };
  });
}
