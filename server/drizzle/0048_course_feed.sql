CREATE TABLE "course_feed" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "course_feed_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"courses" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "activity" ADD COLUMN "external_id" text;--> statement-breakpoint
ALTER TABLE "course" ADD COLUMN "external_id" text;--> statement-breakpoint
ALTER TABLE "unit" ADD COLUMN "external_id" text;--> statement-breakpoint
CREATE UNIQUE INDEX "activity_external" ON "activity" USING btree ("course_id","external_id");--> statement-breakpoint
CREATE UNIQUE INDEX "course_external" ON "course" USING btree ("source_id","external_id");--> statement-breakpoint
CREATE UNIQUE INDEX "unit_external" ON "unit" USING btree ("course_id","external_id");