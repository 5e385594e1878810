CREATE TABLE "activity_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "activity_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"activity_id" bigint NOT NULL,
	"unit_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"position" smallint NOT NULL,
	"name" text NOT NULL,
	"scored" boolean NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "activity_version_in_order" CHECK ("activity_version"."until_at" >= "activity_version"."from_at")
);
--> statement-breakpoint
CREATE TABLE "course_set_item" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "course_set_item_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"course_set_id" bigint NOT NULL,
	"course_id" bigint,
	"inner_set_id" bigint,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "course_set_item_one" CHECK (num_nonnulls("course_set_item"."course_id", "course_set_item"."inner_set_id") = 1),
	CONSTRAINT "course_set_item_not_itself" CHECK ("course_set_item"."inner_set_id" <> "course_set_item"."course_set_id"),
	CONSTRAINT "course_set_item_in_order" CHECK ("course_set_item"."until_at" >= "course_set_item"."from_at")
);
--> statement-breakpoint
CREATE TABLE "course_set_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "course_set_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"course_set_id" bigint NOT NULL,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"position" smallint DEFAULT 0 NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "course_set_version_in_order" CHECK ("course_set_version"."until_at" >= "course_set_version"."from_at")
);
--> statement-breakpoint
CREATE TABLE "course_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "course_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"course_id" bigint NOT NULL,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"code" text,
	"subject" text,
	"description" text,
	"terms" text NOT NULL,
	"archived" boolean DEFAULT false NOT NULL,
	"pass_score" smallint,
	"done_by_activities" bigint[],
	"valid_months" smallint,
	"reopens_days" smallint,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "course_version_terms" CHECK ("course_version"."terms" in ('everyone', 'group', 'request')),
	CONSTRAINT "course_version_pass_score" CHECK ("course_version"."pass_score" between 0 and 100),
	CONSTRAINT "course_version_valid" CHECK ("course_version"."valid_months" between 1 and 600),
	CONSTRAINT "course_version_reopens" CHECK ("course_version"."reopens_days" between 0 and 3650 and ("course_version"."reopens_days" is null or "course_version"."valid_months" is not null)),
	CONSTRAINT "course_version_in_order" CHECK ("course_version"."until_at" >= "course_version"."from_at")
);
--> statement-breakpoint
CREATE TABLE "unit_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "unit_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"unit_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"position" smallint NOT NULL,
	"name" text NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "unit_version_in_order" CHECK ("unit_version"."until_at" >= "unit_version"."from_at")
);
--> statement-breakpoint
ALTER TABLE "activity" ADD COLUMN "course_id" bigint;--> statement-breakpoint
ALTER TABLE "activity_version" ADD CONSTRAINT "activity_version_activity_id_activity_id_fk" FOREIGN KEY ("activity_id") REFERENCES "public"."activity"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "activity_version" ADD CONSTRAINT "activity_version_unit_id_unit_id_fk" FOREIGN KEY ("unit_id") REFERENCES "public"."unit"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "activity_version" ADD CONSTRAINT "activity_version_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_set_item" ADD CONSTRAINT "course_set_item_course_set_id_course_set_id_fk" FOREIGN KEY ("course_set_id") REFERENCES "public"."course_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_set_item" ADD CONSTRAINT "course_set_item_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_set_item" ADD CONSTRAINT "course_set_item_inner_set_id_course_set_id_fk" FOREIGN KEY ("inner_set_id") REFERENCES "public"."course_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_set_version" ADD CONSTRAINT "course_set_version_course_set_id_course_set_id_fk" FOREIGN KEY ("course_set_id") REFERENCES "public"."course_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_version" ADD CONSTRAINT "course_version_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "unit_version" ADD CONSTRAINT "unit_version_unit_id_unit_id_fk" FOREIGN KEY ("unit_id") REFERENCES "public"."unit"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "unit_version" ADD CONSTRAINT "unit_version_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "activity_version_standing" ON "activity_version" USING btree ("activity_id") WHERE "activity_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "activity_version_position" ON "activity_version" USING btree ("unit_id","position") WHERE "activity_version"."until_at" is null;--> statement-breakpoint
CREATE INDEX "activity_version_course" ON "activity_version" USING btree ("course_id") WHERE "activity_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "course_set_item_course" ON "course_set_item" USING btree ("course_set_id","course_id") WHERE "course_set_item"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "course_set_item_set" ON "course_set_item" USING btree ("course_set_id","inner_set_id") WHERE "course_set_item"."until_at" is null;--> statement-breakpoint
CREATE INDEX "course_set_item_of_course" ON "course_set_item" USING btree ("course_id") WHERE "course_set_item"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "course_set_version_standing" ON "course_set_version" USING btree ("course_set_id") WHERE "course_set_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "course_set_version_name" ON "course_set_version" USING btree ("name_key") WHERE "course_set_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "course_version_standing" ON "course_version" USING btree ("course_id") WHERE "course_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "course_version_name" ON "course_version" USING btree ("name_key") WHERE "course_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "course_version_code" ON "course_version" USING btree ("code") WHERE "course_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "unit_version_standing" ON "unit_version" USING btree ("unit_id") WHERE "unit_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "unit_version_position" ON "unit_version" USING btree ("course_id","position") WHERE "unit_version"."until_at" is null;--> statement-breakpoint
ALTER TABLE "activity" ADD CONSTRAINT "activity_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;
--> statement-breakpoint
INSERT INTO course_version (course_id, name, name_key, description, terms, archived, pass_score, done_by_activities, valid_months, reopens_days, from_at)
  SELECT c.id, c.name, c.name_key, c.description, t.terms, t.archived, c.pass_score, c.done_by_activities, c.valid_months, c.reopens_days, t.from_at
  FROM course c JOIN course_terms t ON t.course_id = c.id AND t.until_at IS NULL ORDER BY c.id;
--> statement-breakpoint
INSERT INTO unit_version (unit_id, course_id, position, name, from_at)
  SELECT u.id, u.course_id, u.position, u.name, v.from_at FROM unit u JOIN course_version v ON v.course_id = u.course_id ORDER BY u.id;
--> statement-breakpoint
UPDATE activity a SET course_id = u.course_id FROM unit u WHERE u.id = a.unit_id;
--> statement-breakpoint
INSERT INTO activity_version (activity_id, unit_id, course_id, position, name, scored, from_at)
  SELECT a.id, a.unit_id, a.course_id, a.position, a.name, a.scored, v.from_at FROM activity a JOIN course_version v ON v.course_id = a.course_id ORDER BY a.id;
--> statement-breakpoint
INSERT INTO course_set_version (course_set_id, name, name_key, position) SELECT id, name, name_key, position FROM course_set ORDER BY id;
--> statement-breakpoint
INSERT INTO course_set_item (course_set_id, course_id, from_at, until_at)
  SELECT course_set_id, course_id, from_at, until_at FROM course_set_course ORDER BY row_id;
--> statement-breakpoint
CREATE VIEW course_now AS SELECT course_id AS id, v.* FROM course_version v WHERE until_at IS NULL;
--> statement-breakpoint
CREATE VIEW unit_now AS SELECT unit_id AS id, v.* FROM unit_version v WHERE until_at IS NULL;
--> statement-breakpoint
CREATE VIEW activity_now AS SELECT activity_id AS id, v.* FROM activity_version v WHERE until_at IS NULL;
--> statement-breakpoint
CREATE VIEW course_set_now AS SELECT course_set_id AS id, v.* FROM course_set_version v WHERE until_at IS NULL;
--> statement-breakpoint
-- Which courses a set holds, also through sets in it, and since when: the longest-standing way, as old as its latest step. Derived.
CREATE TABLE "course_in_set" (
	"course_set_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"since" timestamp with time zone NOT NULL,
	CONSTRAINT "course_in_set_course_set_id_course_id_pk" PRIMARY KEY("course_set_id","course_id")
);
--> statement-breakpoint
ALTER TABLE "course_in_set" ADD CONSTRAINT "course_in_set_course_set_id_course_set_id_fk" FOREIGN KEY ("course_set_id") REFERENCES "public"."course_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_in_set" ADD CONSTRAINT "course_in_set_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "course_in_set_course" ON "course_in_set" USING btree ("course_id");
--> statement-breakpoint
CREATE FUNCTION refresh_course_in_set() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  WITH RECURSIVE reach AS (
    SELECT course_set_id, course_id, inner_set_id, from_at AS since FROM course_set_item WHERE until_at IS NULL
    UNION SELECT r.course_set_id, i.course_id, i.inner_set_id, greatest(r.since, i.from_at)
      FROM reach r JOIN course_set_item i ON i.course_set_id = r.inner_set_id AND i.until_at IS NULL
  ), held AS MATERIALIZED (
    SELECT course_set_id, course_id, min(since) AS since FROM reach WHERE course_id IS NOT NULL GROUP BY 1, 2
  ), gone AS (
    DELETE FROM course_in_set c WHERE NOT EXISTS (SELECT 1 FROM held h WHERE h.course_set_id = c.course_set_id AND h.course_id = c.course_id)
  )
  INSERT INTO course_in_set SELECT * FROM held
    ON CONFLICT (course_set_id, course_id) DO UPDATE SET since = excluded.since WHERE course_in_set.since <> excluded.since;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER refresh_course_in_set AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON course_set_item
  FOR EACH STATEMENT EXECUTE FUNCTION refresh_course_in_set();
--> statement-breakpoint
UPDATE course_set_item SET course_set_id = course_set_id WHERE false;
--> statement-breakpoint
CREATE OR REPLACE VIEW licence_course AS
  SELECT licence_id, course_id FROM licence_now WHERE course_id IS NOT NULL
  UNION ALL SELECT l.licence_id, c.course_id FROM licence_now l JOIN course_in_set c ON c.course_set_id = l.course_set_id;
--> statement-breakpoint
DO $$
DECLARE t text;
BEGIN
  FOREACH t IN ARRAY ARRAY['course_version', 'unit_version', 'course_set_item'] LOOP
    EXECUTE format('CREATE TRIGGER raise_structure_version AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON %I FOR EACH STATEMENT EXECUTE FUNCTION raise_structure_version()', t);
  END LOOP;
END $$;
