CREATE INDEX personal_by_name ON personal (family_name COLLATE people_order, given_name COLLATE people_order, person_id) WHERE until_at IS NULL;
--> statement-breakpoint
CREATE INDEX personal_search ON personal USING gin (lower(given_name || ' ' || family_name) gin_trgm_ops) WHERE until_at IS NULL;
--> statement-breakpoint
CREATE VIEW group_now AS
  SELECT v.row_id, v.group_id AS id, v.parent_id, v.name, v.state, v.first_day, v.last_day, g.young_learners, g.description
  FROM group_version v JOIN groups g ON g.id = v.group_id WHERE v.until_at IS NULL;
--> statement-breakpoint
CREATE VIEW personal_now AS SELECT * FROM personal WHERE until_at IS NULL;
--> statement-breakpoint
-- The due day of one person in a window whose paths are due by the day on which each could begin (core: dueDay).
CREATE FUNCTION own_due_day(window_id bigint, learner_id bigint) RETURNS date LANGUAGE sql STABLE AS $$
  SELECT CASE WHEN bool_or(path.firm AND path.due IS NOT NULL) THEN min(path.due) FILTER (WHERE path.firm)
              WHEN bool_and(path.due IS NOT NULL) THEN max(path.due) END
  FROM (
    SELECT d.firm, CASE WHEN num_nonnulls(d.due_day, d.due_days) > 0 THEN greatest(coalesce(d.due_day, begin.day + d.due_days), begin.day + d.least_days) END AS due
    FROM entitlement_due d
    LEFT JOIN membership m ON m.group_id = d.group_id AND m.person_id = learner_id AND m.until_at IS NULL
    CROSS JOIN LATERAL (SELECT greatest(d.grant_day, coalesce(m.first_day, (m.from_at AT TIME ZONE (SELECT time_zone FROM organisation))::date)) AS day) begin
    WHERE d.entitlement_id = window_id
  ) path
$$;
