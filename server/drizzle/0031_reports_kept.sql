CREATE TABLE "report_void" (
	"report_id" uuid NOT NULL,
	"source_id" bigint NOT NULL,
	"received_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "report_void_source_id_report_id_pk" PRIMARY KEY("source_id","report_id")
);
--> statement-breakpoint
ALTER TABLE "activity_result" ADD COLUMN "before" jsonb;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "enrolment_id" bigint;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "activity_id" bigint;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "finished" boolean;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "score" double precision;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "report_void" ADD CONSTRAINT "report_void_source_id_source_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."source"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_enrolment_id_enrolment_id_fk" FOREIGN KEY ("enrolment_id") REFERENCES "public"."enrolment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_activity_id_activity_id_fk" FOREIGN KEY ("activity_id") REFERENCES "public"."activity"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "report_of_result" ON "report" USING btree ("enrolment_id","activity_id");
--> statement-breakpoint
-- What players reported until now is known only as what it came to.
UPDATE activity_result r SET before = jsonb_build_object('finished', r.finished, 'score', r.score, 'tries', r.tries, 'lastAt', to_char(r.last_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"'))
FROM activity_version a WHERE a.activity_id = r.activity_id AND a.until_at IS NULL AND a.finished_by = 'player';
