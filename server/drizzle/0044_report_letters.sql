CREATE TABLE "report_letter" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "report_letter_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"view_id" bigint NOT NULL,
	"every" text NOT NULL,
	"next_day" date NOT NULL,
	"asked_at" timestamp with time zone DEFAULT now() NOT NULL,
	"opened_at" timestamp with time zone,
	"stopped_at" timestamp with time zone,
	CONSTRAINT "report_letter_viewId_unique" UNIQUE("view_id"),
	CONSTRAINT "report_letter_every" CHECK ("report_letter"."every" in ('week', 'month'))
);
--> statement-breakpoint
CREATE TABLE "report_letter_reader" (
	"letter_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	CONSTRAINT "report_letter_reader_letter_id_person_id_pk" PRIMARY KEY("letter_id","person_id")
);
--> statement-breakpoint
ALTER TABLE "report_letter" ADD CONSTRAINT "report_letter_view_id_kept_view_id_fk" FOREIGN KEY ("view_id") REFERENCES "public"."kept_view"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "report_letter_reader" ADD CONSTRAINT "report_letter_reader_letter_id_report_letter_id_fk" FOREIGN KEY ("letter_id") REFERENCES "public"."report_letter"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "report_letter_reader" ADD CONSTRAINT "report_letter_reader_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "report_letter_reader_person" ON "report_letter_reader" USING btree ("person_id");