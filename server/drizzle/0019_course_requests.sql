CREATE TABLE "course_request" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "course_request_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"state" text NOT NULL,
	"asked_at" timestamp with time zone DEFAULT now() NOT NULL,
	"asking" text,
	"word" text,
	"decided_by" bigint,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "course_request_state" CHECK ("course_request"."state" in ('asking', 'opened', 'turned away')),
	CONSTRAINT "course_request_in_order" CHECK ("course_request"."until_at" >= "course_request"."from_at")
);
--> statement-breakpoint
ALTER TABLE "access_grant" ADD COLUMN "by_request" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "course_request" ADD CONSTRAINT "course_request_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_request" ADD CONSTRAINT "course_request_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_request" ADD CONSTRAINT "course_request_decided_by_person_id_fk" FOREIGN KEY ("decided_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "course_request_standing" ON "course_request" USING btree ("person_id","course_id") WHERE "course_request"."until_at" is null;--> statement-breakpoint
CREATE INDEX "course_request_person" ON "course_request" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "course_request_course" ON "course_request" USING btree ("course_id");--> statement-breakpoint
CREATE INDEX "course_request_decided_by" ON "course_request" USING btree ("decided_by");--> statement-breakpoint
CREATE INDEX "course_request_waiting" ON "course_request" USING btree ("asked_at") WHERE "course_request"."until_at" is null and "course_request"."state" = 'asking';