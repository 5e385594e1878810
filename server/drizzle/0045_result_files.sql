CREATE TABLE "result_file" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "result_file_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"by_id" bigint NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"rows" integer NOT NULL,
	"taken_back_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "result_file_id" bigint;--> statement-breakpoint
ALTER TABLE "result_file" ADD CONSTRAINT "result_file_by_id_person_id_fk" FOREIGN KEY ("by_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "result_file_by" ON "result_file" USING btree ("by_id");--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_result_file_id_result_file_id_fk" FOREIGN KEY ("result_file_id") REFERENCES "public"."result_file"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "report_of_file" ON "report" USING btree ("result_file_id") WHERE "report"."result_file_id" is not null;