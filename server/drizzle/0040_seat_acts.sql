CREATE TABLE "seat_news" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "seat_news_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"what" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "seat_news_what" CHECK ("seat_news"."what" in ('got', 'lost', 'near'))
);
--> statement-breakpoint
ALTER TABLE "seat" RENAME COLUMN "id" TO "row_id";--> statement-breakpoint
ALTER TABLE "seat_word" DROP CONSTRAINT "seat_word_word";--> statement-breakpoint
ALTER TABLE "enrolment" RENAME CONSTRAINT "enrolment_seat_id_seat_id_fk" TO "enrolment_seat_id_seat_row_id_fk";--> statement-breakpoint
ALTER TABLE "seat_word" ALTER COLUMN "made_by" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "licence_version" ADD COLUMN "idle_days" smallint;--> statement-breakpoint
ALTER TABLE "seat_line" ADD COLUMN "is_near" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "seat_news" ADD CONSTRAINT "seat_news_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_news" ADD CONSTRAINT "seat_news_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "seat_news_of" ON "seat_news" USING btree ("person_id");--> statement-breakpoint
ALTER TABLE "licence_version" ADD CONSTRAINT "licence_idle_days" CHECK ("licence_version"."idle_days" between 1 and 3650);--> statement-breakpoint
ALTER TABLE "seat_word" ADD CONSTRAINT "seat_word_word" CHECK ("seat_word"."word" in ('given', 'taken back', 'gave up'));--> statement-breakpoint
CREATE OR REPLACE VIEW licence_now AS SELECT * FROM licence_version WHERE until_at IS NULL;--> statement-breakpoint
-- Those who are among the next today were so before there were letters about it.
UPDATE seat_line SET is_near = true WHERE row_id IN (
  SELECT row_id FROM (SELECT row_id, row_number() OVER (PARTITION BY course_id ORDER BY place) AS nth FROM seat_line WHERE until_at IS NULL) t WHERE nth <= 3);
