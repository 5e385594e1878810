CREATE TABLE "course_exception" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "course_exception_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"kind" text NOT NULL,
	"day" date,
	"reason" text,
	"proof" text,
	"maker_branch_id" bigint,
	"made_by" bigint,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "course_exception_kind" CHECK ("course_exception"."kind" in ('more time', 'exempt', 'done elsewhere')),
	CONSTRAINT "course_exception_day" CHECK (("course_exception"."kind" = 'exempt') = ("course_exception"."day" is null)),
	CONSTRAINT "course_exception_in_order" CHECK ("course_exception"."until_at" >= "course_exception"."from_at")
);
--> statement-breakpoint
ALTER TABLE "entitlement_due" ADD COLUMN "not_before" date;--> statement-breakpoint
ALTER TABLE "course_exception" ADD CONSTRAINT "course_exception_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_exception" ADD CONSTRAINT "course_exception_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_exception" ADD CONSTRAINT "course_exception_maker_branch_id_groups_id_fk" FOREIGN KEY ("maker_branch_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_exception" ADD CONSTRAINT "course_exception_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "course_exception_standing" ON "course_exception" USING btree ("person_id","course_id","kind") WHERE "course_exception"."until_at" is null;--> statement-breakpoint
CREATE INDEX "course_exception_course" ON "course_exception" USING btree ("course_id");--> statement-breakpoint
CREATE INDEX "course_exception_made_by" ON "course_exception" USING btree ("made_by");--> statement-breakpoint
INSERT INTO course_exception (person_id, course_id, kind, reason) SELECT person_id, course_id, 'exempt', exempt_reason FROM enrolment WHERE is_current AND exempt;
--> statement-breakpoint
INSERT INTO course_exception (person_id, course_id, kind, day, reason)
  SELECT person_id, course_id, 'done elsewhere', done_day, elsewhere_reason FROM enrolment WHERE is_current AND done_elsewhere AND done_day IS NOT NULL;
