CREATE TABLE "licence_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "licence_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"licence_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"name" text NOT NULL,
	"seats" integer NOT NULL,
	"first_day" date,
	"last_day" date,
	"course_id" bigint,
	"course_set_id" bigint,
	"on_leaving" text NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "licence_seats" CHECK ("licence_version"."seats" >= 0),
	CONSTRAINT "licence_about_one" CHECK (num_nonnulls("licence_version"."course_id", "licence_version"."course_set_id") = 1),
	CONSTRAINT "licence_on_leaving" CHECK ("licence_version"."on_leaving" in ('comes back', 'comes back if not begun', 'stays used')),
	CONSTRAINT "licence_days" CHECK ("licence_version"."first_day" <= "licence_version"."last_day")
);
--> statement-breakpoint
ALTER TABLE "licence" DROP CONSTRAINT "licence_seats";--> statement-breakpoint
ALTER TABLE "licence" DROP CONSTRAINT "licence_about_one";--> statement-breakpoint
ALTER TABLE "licence" DROP CONSTRAINT "licence_on_leaving";--> statement-breakpoint
ALTER TABLE "licence" DROP CONSTRAINT "licence_days";--> statement-breakpoint
ALTER TABLE "licence" DROP CONSTRAINT "licence_course_id_course_id_fk";
--> statement-breakpoint
ALTER TABLE "licence" DROP CONSTRAINT "licence_course_set_id_course_set_id_fk";
--> statement-breakpoint
ALTER TABLE "licence" DROP CONSTRAINT "licence_home_group_id_groups_id_fk";
--> statement-breakpoint
ALTER TABLE "seat" ADD COLUMN "got_at" timestamp with time zone NOT NULL;--> statement-breakpoint
ALTER TABLE "seat" ADD COLUMN "change_id" bigint;--> statement-breakpoint
ALTER TABLE "licence_version" ADD CONSTRAINT "licence_version_licence_id_licence_id_fk" FOREIGN KEY ("licence_id") REFERENCES "public"."licence"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "licence_version" ADD CONSTRAINT "licence_version_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "licence_version" ADD CONSTRAINT "licence_version_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "licence_version" ADD CONSTRAINT "licence_version_course_set_id_course_set_id_fk" FOREIGN KEY ("course_set_id") REFERENCES "public"."course_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "licence_version_standing" ON "licence_version" USING btree ("licence_id") WHERE "licence_version"."until_at" is null;--> statement-breakpoint
ALTER TABLE "seat" ADD CONSTRAINT "seat_change_id_change_log_id_fk" FOREIGN KEY ("change_id") REFERENCES "public"."change_log"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "seat_of_change" ON "seat" USING btree ("change_id");--> statement-breakpoint
ALTER TABLE "licence" DROP COLUMN "name";--> statement-breakpoint
ALTER TABLE "licence" DROP COLUMN "seats";--> statement-breakpoint
ALTER TABLE "licence" DROP COLUMN "first_day";--> statement-breakpoint
ALTER TABLE "licence" DROP COLUMN "last_day";--> statement-breakpoint
ALTER TABLE "licence" DROP COLUMN "course_id";--> statement-breakpoint
ALTER TABLE "licence" DROP COLUMN "course_set_id";--> statement-breakpoint
ALTER TABLE "licence" DROP COLUMN "home_group_id";--> statement-breakpoint
ALTER TABLE "licence" DROP COLUMN "on_leaving";--> statement-breakpoint
ALTER TABLE "licence" DROP COLUMN "until_at";--> statement-breakpoint
-- One could really begin no sooner than one had the seat that pays (core: dueDay).
CREATE OR REPLACE FUNCTION own_due_day(window_id bigint, learner_id bigint) RETURNS date LANGUAGE sql STABLE AS $$
  SELECT CASE WHEN bool_or(path.firm AND path.due IS NOT NULL) THEN min(path.due) FILTER (WHERE path.firm)
              WHEN bool_and(path.due IS NOT NULL) THEN max(path.due) END
  FROM (
    SELECT d.firm, CASE WHEN num_nonnulls(d.due_day, d.due_days) > 0 THEN greatest(coalesce(d.due_day, begin.day + d.due_days), begin.day + d.least_days) END AS due
    FROM entitlement_due d
    LEFT JOIN membership m ON m.group_id = d.group_id AND m.person_id = learner_id AND m.until_at IS NULL
    CROSS JOIN LATERAL (SELECT greatest(d.grant_day, coalesce(m.first_day, (m.from_at AT TIME ZONE (SELECT time_zone FROM organisation))::date), (
      SELECT (max(s.got_at) AT TIME ZONE (SELECT time_zone FROM organisation))::date
      FROM seat s JOIN licence_version v ON v.licence_id = s.licence_id AND v.until_at IS NULL JOIN entitlement w ON w.id = window_id
      WHERE s.person_id = learner_id AND s.until_at IS NULL
        AND (v.course_id = w.course_id OR EXISTS (SELECT 1 FROM course_set_course c WHERE c.course_set_id = v.course_set_id AND c.course_id = w.course_id AND c.until_at IS NULL))
        AND EXISTS (SELECT 1 FROM access_grant a WHERE a.row_id = ANY (w.by_grants) AND a.licences IS NOT NULL)
    )) AS day) begin
    WHERE d.entitlement_id = window_id
  ) path
$$;
--> statement-breakpoint
CREATE VIEW licence_now AS SELECT * FROM licence_version WHERE until_at IS NULL;
--> statement-breakpoint
-- Which courses a standing licence pays for: one, or those of a set.
CREATE VIEW licence_course AS
  SELECT licence_id, course_id FROM licence_now WHERE course_id IS NOT NULL
  UNION ALL SELECT l.licence_id, c.course_id FROM licence_now l JOIN course_set_course c ON c.course_set_id = l.course_set_id AND c.until_at IS NULL;
