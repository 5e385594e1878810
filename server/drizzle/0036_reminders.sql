CREATE TABLE "address_bounce" (
	"address" "citext" PRIMARY KEY NOT NULL,
	"in_a_row" smallint NOT NULL,
	"last_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "member_stream" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "member_stream_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"group_id" bigint NOT NULL,
	"kinds" text[] NOT NULL,
	"made_by" bigint NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "member_stream_in_order" CHECK ("member_stream"."until_at" >= "member_stream"."from_at")
);
--> statement-breakpoint
CREATE TABLE "reminded" (
	"person_id" bigint NOT NULL,
	"occasion" text NOT NULL,
	"about_id" bigint NOT NULL,
	"round" date,
	"message_id" bigint NOT NULL,
	CONSTRAINT "reminded_once" UNIQUE NULLS NOT DISTINCT("person_id","occasion","about_id","round")
);
--> statement-breakpoint
CREATE TABLE "reminder_setting" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "reminder_setting_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"group_id" bigint NOT NULL,
	"course_id" bigint,
	"occasion" text NOT NULL,
	"days" smallint,
	"subject" text,
	"body" text,
	"from_day" date,
	"made_by" bigint NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "reminder_setting_text" CHECK (("reminder_setting"."subject" is null) = ("reminder_setting"."body" is null)),
	CONSTRAINT "reminder_setting_in_order" CHECK ("reminder_setting"."until_at" >= "reminder_setting"."from_at")
);
--> statement-breakpoint
ALTER TABLE "message_version" DROP CONSTRAINT "message_version_kind";--> statement-breakpoint
ALTER TABLE "organisation" ADD COLUMN "quiet_from" smallint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "organisation" ADD COLUMN "quiet_until" smallint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "day_turn" ADD COLUMN "reminded_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "member_stream" ADD CONSTRAINT "member_stream_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "member_stream" ADD CONSTRAINT "member_stream_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reminded" ADD CONSTRAINT "reminded_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reminded" ADD CONSTRAINT "reminded_message_id_message_id_fk" FOREIGN KEY ("message_id") REFERENCES "public"."message"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reminder_setting" ADD CONSTRAINT "reminder_setting_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reminder_setting" ADD CONSTRAINT "reminder_setting_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reminder_setting" ADD CONSTRAINT "reminder_setting_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "member_stream_standing" ON "member_stream" USING btree ("group_id") WHERE "member_stream"."until_at" is null;--> statement-breakpoint
CREATE INDEX "member_stream_made_by" ON "member_stream" USING btree ("made_by");--> statement-breakpoint
CREATE INDEX "reminded_message" ON "reminded" USING btree ("message_id");--> statement-breakpoint
CREATE UNIQUE INDEX "reminder_setting_standing" ON "reminder_setting" USING btree ("group_id","occasion",coalesce("course_id", 0)) WHERE "reminder_setting"."until_at" is null;--> statement-breakpoint
CREATE INDEX "reminder_setting_course" ON "reminder_setting" USING btree ("course_id");--> statement-breakpoint
CREATE INDEX "reminder_setting_made_by" ON "reminder_setting" USING btree ("made_by");--> statement-breakpoint
CREATE INDEX "activity_result_scored_at" ON "activity_result" USING btree ("last_at") WHERE "activity_result"."score" is not null;--> statement-breakpoint
CREATE INDEX "enrolment_begun_at" ON "enrolment" USING btree ("begun_at");--> statement-breakpoint
ALTER TABLE "message_version" ADD CONSTRAINT "message_version_kind" CHECK ("message_version"."kind" in ('message', 'task', 'question', 'reminder'));