CREATE TABLE "rule_cause" (
	"change_id" bigint NOT NULL,
	"cause_id" bigint NOT NULL,
	CONSTRAINT "rule_cause_change_id_cause_id_pk" PRIMARY KEY("change_id","cause_id")
);
--> statement-breakpoint
ALTER TABLE "rule_event" ADD COLUMN "change_id" bigint;--> statement-breakpoint
ALTER TABLE "rule_cause" ADD CONSTRAINT "rule_cause_change_id_change_log_id_fk" FOREIGN KEY ("change_id") REFERENCES "public"."change_log"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_cause" ADD CONSTRAINT "rule_cause_cause_id_change_log_id_fk" FOREIGN KEY ("cause_id") REFERENCES "public"."change_log"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "rule_cause_cause" ON "rule_cause" USING btree ("cause_id");