CREATE TABLE "source_course" (
	"source_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	CONSTRAINT "source_course_source_id_course_id_pk" PRIMARY KEY("source_id","course_id")
);
--> statement-breakpoint
CREATE TABLE "statement" (
	"source_id" bigint NOT NULL,
	"id" uuid NOT NULL,
	"received_at" timestamp with time zone NOT NULL,
	"person_id" bigint,
	"said" jsonb NOT NULL,
	CONSTRAINT "statement_source_id_id_received_at_pk" PRIMARY KEY("source_id","id","received_at")
) PARTITION BY RANGE ("received_at");
--> statement-breakpoint
CREATE TABLE "statement_personal" (
	"source_id" bigint NOT NULL,
	"id" uuid NOT NULL,
	"person_id" bigint NOT NULL,
	"said" jsonb NOT NULL,
	CONSTRAINT "statement_personal_source_id_id_pk" PRIMARY KEY("source_id","id")
);
--> statement-breakpoint
ALTER TABLE "report" DROP CONSTRAINT "report_pkey";--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_source_id_id_pk" PRIMARY KEY("source_id","id");--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "password_hash" text;--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "all_courses" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "made_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "ended_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "digest" text;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "person_id" bigint;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "not_counted" text;--> statement-breakpoint
ALTER TABLE "source_course" ADD CONSTRAINT "source_course_source_id_source_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."source"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "source_course" ADD CONSTRAINT "source_course_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "statement" ADD CONSTRAINT "statement_source_id_source_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."source"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "statement" ADD CONSTRAINT "statement_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "statement_personal" ADD CONSTRAINT "statement_personal_source_id_source_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."source"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "statement_personal" ADD CONSTRAINT "statement_personal_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "source_course_course" ON "source_course" USING btree ("course_id");--> statement-breakpoint
CREATE INDEX "statement_of_person" ON "statement" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "statement_personal_of_person" ON "statement_personal" USING btree ("person_id");--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "report_of_person" ON "report" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "report_of_source" ON "report" USING btree ("source_id","received_at");--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_not_counted" CHECK ("report"."not_counted" in ('not open', 'other verb'));--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_counts_for" CHECK ("report"."not_counted" is null or "report"."enrolment_id" is null);--> statement-breakpoint
UPDATE "report" SET "person_id" = e.person_id FROM "enrolment" e WHERE e.id = "report"."enrolment_id";
