ALTER TABLE "rule_act" DROP CONSTRAINT "rule_act_outcome";--> statement-breakpoint
ALTER TABLE "rule_version" ADD COLUMN "asks_first" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX "rule_act_asked" ON "rule_act" USING btree ("rule_id") WHERE outcome = 'asked';--> statement-breakpoint
ALTER TABLE "rule_act" ADD CONSTRAINT "rule_act_outcome" CHECK ("rule_act"."outcome" in ('acted', 'before', 'nothing to do', 'chain', 'undo', 'asked', 'left alone'));