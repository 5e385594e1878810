import { execute, type Site } from './site.ts';

/** Everything that is derived, in terms that do not hang on row ids. */
export async function derived(site: Site): Promise<unknown[]> {
  return Promise.all(
    [
      `select ancestor_id, group_id, depth from group_branch order by 1, 2`,
      `select p.id, s.key, p.counted, p.own_windows from person p join membership_set s on s.id = p.set_id order by 1`,
      `select key, counted, counted_alike from membership_set where counted > 0 order by 1`,
      `select course_set_id, course_id from course_in_set order by 1, 2`,
      `select b.ancestor_id, s.key from set_in_branch b join membership_set s on s.id = b.set_id where s.counted > 0 order by 1, 2`,
      `select coalesce(s.key, '') as key, e.person_id, e.course_id, e.first_day, e.last_day, e.units, e.via_groups, e.by_grants, e.due_day, e.due_is_own,
      (select jsonb_agg(jsonb_build_array(d.group_id, d.grant_day, d.due_day, d.due_days, d.least_days, d.firm, d.not_before) order by d.group_id) from entitlement_due d where d.entitlement_id = e.id) as due
      from entitlement e left join membership_set s on s.id = e.set_id left join person p on p.id = e.person_id where coalesce(s.counted > 0, p.own_windows) order by 1, 2, 3, 4 nulls first`,
    ].map((text) => execute(site.databaseUrl, text)),
  );
}

/** The roster as people know it: the tree by paths, who is in it, leads it and is tagged, and what is said about courses. No row ids. */
export async function roster(site: Site): Promise<unknown[]> {
  return Promise.all(
    [
      `select id, parent_id, name, state, first_day, last_day, description, colour, young_learners, contact_id from group_now order by 1`,
      `select person_id, group_id, last_day from membership where until_at is null order by 1, 2`,
      `select person_id, group_id, powers, first_day, last_day from leadership where until_at is null order by 1, 2`,
      `select person_id, tag_id from person_tag where until_at is null order by 1, 2`,
      `select id, name, colour from tag_now order by 1`,
      `select person_id, state, first_day, last_day from person_state where until_at is null order by 1`,
      `select person_id, given_name, family_name, email, sign_in_name, id_number from personal_now order by 1`,
      `select licence_id, group_id, name, seats, last_day from licence_now order by 1`,
      `select licence_id, group_id, most from seat_limit where until_at is null order by 1, 2`,
      `select person_id, course_id, round, is_current, status, round(score::numeric, 6) as score from enrolment order by 1, 2, 3`,
      `select code_id, made_by, group_ids, code, paused, note from join_code_version where until_at is null order by 1`,
      `select person_id, code_id, group_id, state from join_request where until_at is null order by 1, 2, 3`,
      `select group_id, email, powers from invitation where until_at is null order by 1, 2`,
      `select group_id, kind, subject from letter_template where until_at is null order by 1, 2`,
      `select group_id, course_id, occasion, days, subject from reminder_setting where until_at is null order by 1, 3, 2`,
      `select group_id, kinds from member_stream where until_at is null order by 1`,
      `select person_id, course_id, kind, day, reason from course_exception where until_at is null order by 1, 2, 3`,
      `select id, name, code, terms, archived, pass_score, done_by_activities from course_now order by 1`,
      `select id, course_id, position, name from unit_now order by 1`,
      `select id, unit_id, position, name, scored from activity_now order by 1`,
      `select id, name from course_set_now order by 1`,
      `select course_set_id, course_id, inner_set_id from course_set_item where until_at is null order by 1, 2, 3`,
      `select split_id, group_id, name, parts, runs_until, maker_branch_id from split_version where until_at is null order by 1`,
      `select split_id, part, person_id from split_member where until_at is null order by 1, 2, 3`,
      `select group_id, course_id, effect, firm, first_day, last_day from access_grant where until_at is null order by 1, 2, 3, 4, 5`,
    ].map((text) => execute(site.databaseUrl, text)),
  );
}
