CREATE TABLE "mark" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "mark_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"version_id" bigint NOT NULL,
	"verdict" text NOT NULL,
	"score" double precision,
	"points" integer[],
	"skill_ids" bigint[] DEFAULT '{}' NOT NULL,
	"comment" text DEFAULT '' NOT NULL,
	"marked_by" bigint NOT NULL,
	"marked_at" timestamp with time zone NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "mark_verdict" CHECK ("mark"."verdict" in ('sent back', 'marked')),
	CONSTRAINT "mark_in_order" CHECK ("mark"."until_at" >= "mark"."from_at")
);
--> statement-breakpoint
CREATE TABLE "skill" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "skill_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1)
);
--> statement-breakpoint
CREATE TABLE "skill_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "skill_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"skill_id" bigint NOT NULL,
	"course_id" bigint,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "skill_version_in_order" CHECK ("skill_version"."until_at" >= "skill_version"."from_at")
);
--> statement-breakpoint
CREATE TABLE "work" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "work_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"enrolment_id" bigint NOT NULL,
	"activity_id" bigint NOT NULL,
	CONSTRAINT "work_of_enrolment" UNIQUE("enrolment_id","activity_id")
);
--> statement-breakpoint
CREATE TABLE "work_claim" (
	"version_id" bigint PRIMARY KEY NOT NULL,
	"person_id" bigint NOT NULL,
	"until_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "work_file" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "work_file_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"version_id" bigint NOT NULL,
	"file_name" text NOT NULL,
	"mime_type" text NOT NULL,
	"size" integer NOT NULL,
	"content" "bytea" NOT NULL
);
--> statement-breakpoint
CREATE TABLE "work_version" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "work_version_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"work_id" bigint NOT NULL,
	"number" smallint NOT NULL,
	"state" text DEFAULT 'draft' NOT NULL,
	"words" text DEFAULT '' NOT NULL,
	"link" text,
	"skill_ids" bigint[] DEFAULT '{}' NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"handed_in_at" timestamp with time zone,
	"is_late" boolean DEFAULT false NOT NULL,
	CONSTRAINT "work_version_number" UNIQUE("work_id","number"),
	CONSTRAINT "work_version_state_known" CHECK ("work_version"."state" in ('draft', 'waiting', 'sent back', 'marked')),
	CONSTRAINT "work_version_handed_in" CHECK (("work_version"."state" = 'draft') = ("work_version"."handed_in_at" is null))
);
--> statement-breakpoint
ALTER TABLE "activity_version" ADD COLUMN "finished_by" text DEFAULT 'player' NOT NULL;--> statement-breakpoint
ALTER TABLE "activity_version" ADD COLUMN "hand_in" jsonb;--> statement-breakpoint
ALTER TABLE "mark" ADD CONSTRAINT "mark_version_id_work_version_id_fk" FOREIGN KEY ("version_id") REFERENCES "public"."work_version"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mark" ADD CONSTRAINT "mark_marked_by_person_id_fk" FOREIGN KEY ("marked_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "skill_version" ADD CONSTRAINT "skill_version_skill_id_skill_id_fk" FOREIGN KEY ("skill_id") REFERENCES "public"."skill"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "skill_version" ADD CONSTRAINT "skill_version_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "work" ADD CONSTRAINT "work_enrolment_id_enrolment_id_fk" FOREIGN KEY ("enrolment_id") REFERENCES "public"."enrolment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "work" ADD CONSTRAINT "work_activity_id_activity_id_fk" FOREIGN KEY ("activity_id") REFERENCES "public"."activity"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "work_claim" ADD CONSTRAINT "work_claim_version_id_work_version_id_fk" FOREIGN KEY ("version_id") REFERENCES "public"."work_version"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "work_claim" ADD CONSTRAINT "work_claim_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "work_file" ADD CONSTRAINT "work_file_version_id_work_version_id_fk" FOREIGN KEY ("version_id") REFERENCES "public"."work_version"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "work_version" ADD CONSTRAINT "work_version_work_id_work_id_fk" FOREIGN KEY ("work_id") REFERENCES "public"."work"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "mark_current" ON "mark" USING btree ("version_id") WHERE "mark"."until_at" is null;--> statement-breakpoint
CREATE INDEX "mark_marked_by" ON "mark" USING btree ("marked_by");--> statement-breakpoint
CREATE INDEX "mark_skills" ON "mark" USING gin ("skill_ids");--> statement-breakpoint
CREATE UNIQUE INDEX "skill_version_current" ON "skill_version" USING btree ("skill_id") WHERE "skill_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "skill_version_name" ON "skill_version" USING btree (coalesce("course_id", 0),"name_key") WHERE "skill_version"."until_at" is null;--> statement-breakpoint
CREATE INDEX "work_activity" ON "work" USING btree ("activity_id");--> statement-breakpoint
CREATE INDEX "work_claim_person" ON "work_claim" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "work_file_version" ON "work_file" USING btree ("version_id");--> statement-breakpoint
CREATE INDEX "work_version_queue" ON "work_version" USING btree ("handed_in_at","id") WHERE "work_version"."state" = 'waiting';--> statement-breakpoint
CREATE INDEX "work_version_state" ON "work_version" USING btree ("state","handed_in_at","id");--> statement-breakpoint
ALTER TABLE "activity_version" ADD CONSTRAINT "activity_version_finished_by" CHECK ("activity_version"."finished_by" in ('player', 'marker', 'learner'));--> statement-breakpoint
ALTER TABLE "activity_version" ADD CONSTRAINT "activity_version_hand_in" CHECK (("activity_version"."finished_by" = 'marker') = ("activity_version"."hand_in" is not null));--> statement-breakpoint
CREATE OR REPLACE VIEW activity_now AS SELECT activity_id AS id, v.* FROM activity_version v WHERE until_at IS NULL;
--> statement-breakpoint
CREATE VIEW skill_now AS SELECT skill_id AS id, v.* FROM skill_version v WHERE until_at IS NULL;
--> statement-breakpoint
-- Leaders who hold every power hold the new one too.
UPDATE leadership SET powers = powers || '{markWork}'::text[] WHERE powers @> '{seeProgress,helpSignIn,decideEntry,managePeople,shapeGroups,appointLeaders,openCourses,handOutSeats,writeMessages,export}'::text[] AND NOT powers @> '{markWork}'::text[];
--> statement-breakpoint
UPDATE invitation SET powers = powers || '{markWork}'::text[] WHERE powers @> '{seeProgress,helpSignIn,decideEntry,managePeople,shapeGroups,appointLeaders,openCourses,handOutSeats,writeMessages,export}'::text[] AND NOT powers @> '{markWork}'::text[];
--> statement-breakpoint
UPDATE join_code_version SET powers = powers || '{markWork}'::text[] WHERE powers @> '{seeProgress,helpSignIn,decideEntry,managePeople,shapeGroups,appointLeaders,openCourses,handOutSeats,writeMessages,export}'::text[] AND NOT powers @> '{markWork}'::text[];
