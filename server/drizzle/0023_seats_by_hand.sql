CREATE TABLE "seat_word" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "seat_word_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"licence_id" bigint NOT NULL,
	"word" text NOT NULL,
	"made_by" bigint NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "seat_word_word" CHECK ("seat_word"."word" in ('given', 'taken back')),
	CONSTRAINT "seat_word_in_order" CHECK ("seat_word"."until_at" >= "seat_word"."from_at")
);
--> statement-breakpoint
ALTER TABLE "licence_version" ADD COLUMN "by_hand" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "seat_word" ADD CONSTRAINT "seat_word_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_word" ADD CONSTRAINT "seat_word_licence_id_licence_id_fk" FOREIGN KEY ("licence_id") REFERENCES "public"."licence"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_word" ADD CONSTRAINT "seat_word_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "seat_word_standing" ON "seat_word" USING btree ("person_id","licence_id") WHERE "seat_word"."until_at" is null;--> statement-breakpoint
CREATE INDEX "seat_word_licence" ON "seat_word" USING btree ("licence_id");--> statement-breakpoint
CREATE INDEX "seat_word_made_by" ON "seat_word" USING btree ("made_by");--> statement-breakpoint
-- A view keeps the columns that its table had when it was made.
CREATE OR REPLACE VIEW licence_now AS SELECT * FROM licence_version WHERE until_at IS NULL;
