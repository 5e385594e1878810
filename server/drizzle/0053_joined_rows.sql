CREATE TABLE "joined_row" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "joined_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"change_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"gone_id" bigint NOT NULL,
	"place" text NOT NULL,
	"key" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "joined_row" ADD CONSTRAINT "joined_row_change_id_change_log_id_fk" FOREIGN KEY ("change_id") REFERENCES "public"."change_log"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "joined_row" ADD CONSTRAINT "joined_row_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "joined_row" ADD CONSTRAINT "joined_row_gone_id_person_id_fk" FOREIGN KEY ("gone_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "joined_row_change" ON "joined_row" USING btree ("change_id");--> statement-breakpoint
CREATE INDEX "joined_row_person" ON "joined_row" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "joined_row_gone" ON "joined_row" USING btree ("gone_id");