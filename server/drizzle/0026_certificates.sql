CREATE TABLE "certificate" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "certificate_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"form_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"about" text NOT NULL,
	"day" date NOT NULL,
	"score" double precision,
	"valid_until" date,
	"given_at" timestamp with time zone NOT NULL,
	"given_by" bigint,
	"replaces" text,
	"name_shown" boolean DEFAULT false NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "certificate_in_order" CHECK ("certificate"."until_at" >= "certificate"."from_at")
);
--> statement-breakpoint
CREATE TABLE "certificate_form" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "certificate_form_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1)
);
--> statement-breakpoint
CREATE TABLE "certificate_form_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "certificate_form_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"form_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"course_id" bigint,
	"course_set_id" bigint,
	"title" text NOT NULL,
	"words" text NOT NULL,
	"logo_id" bigint,
	"shows_score" boolean DEFAULT false NOT NULL,
	"by_itself" boolean DEFAULT false NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "certificate_form_version_about" CHECK (num_nonnulls("certificate_form_version"."course_id", "certificate_form_version"."course_set_id") <= 1),
	CONSTRAINT "certificate_form_version_in_order" CHECK ("certificate_form_version"."until_at" >= "certificate_form_version"."from_at")
);
--> statement-breakpoint
ALTER TABLE "certificate" ADD CONSTRAINT "certificate_form_id_certificate_form_id_fk" FOREIGN KEY ("form_id") REFERENCES "public"."certificate_form"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "certificate" ADD CONSTRAINT "certificate_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "certificate" ADD CONSTRAINT "certificate_given_by_person_id_fk" FOREIGN KEY ("given_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "certificate_form_version" ADD CONSTRAINT "certificate_form_version_form_id_certificate_form_id_fk" FOREIGN KEY ("form_id") REFERENCES "public"."certificate_form"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "certificate_form_version" ADD CONSTRAINT "certificate_form_version_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "certificate_form_version" ADD CONSTRAINT "certificate_form_version_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "certificate_form_version" ADD CONSTRAINT "certificate_form_version_course_set_id_course_set_id_fk" FOREIGN KEY ("course_set_id") REFERENCES "public"."course_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "certificate_form_version" ADD CONSTRAINT "certificate_form_version_logo_id_upload_id_fk" FOREIGN KEY ("logo_id") REFERENCES "public"."upload"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "certificate_current" ON "certificate" USING btree ("number") WHERE "certificate"."until_at" is null;--> statement-breakpoint
CREATE INDEX "certificate_number" ON "certificate" USING btree ("number","row_id");--> statement-breakpoint
CREATE INDEX "certificate_of_form" ON "certificate" USING btree ("form_id","person_id");--> statement-breakpoint
CREATE INDEX "certificate_person" ON "certificate" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "certificate_given_by" ON "certificate" USING btree ("given_by");--> statement-breakpoint
CREATE INDEX "certificate_replaces" ON "certificate" USING btree ("replaces");--> statement-breakpoint
CREATE UNIQUE INDEX "certificate_form_version_current" ON "certificate_form_version" USING btree ("form_id") WHERE "certificate_form_version"."until_at" is null;--> statement-breakpoint
CREATE INDEX "certificate_form_version_group" ON "certificate_form_version" USING btree ("group_id");--> statement-breakpoint
CREATE INDEX "enrolment_done_at" ON "enrolment" USING btree ("done_at") WHERE "enrolment"."status" = 'done' and "enrolment"."is_current";--> statement-breakpoint
CREATE INDEX "mark_marked_at" ON "mark" USING btree ("marked_at");--> statement-breakpoint
CREATE VIEW certificate_form_now AS SELECT form_id AS id, v.* FROM certificate_form_version v WHERE until_at IS NULL;
