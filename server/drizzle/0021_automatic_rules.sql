CREATE TABLE "rule" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "rule_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"paused_for" text
);
--> statement-breakpoint
CREATE TABLE "rule_act" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "rule_act_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"rule_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"occasion" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"outcome" text NOT NULL,
	"change_id" bigint,
	CONSTRAINT "rule_act_once" UNIQUE("rule_id","person_id","occasion"),
	CONSTRAINT "rule_act_outcome" CHECK ("rule_act"."outcome" in ('acted', 'before', 'nothing to do', 'chain', 'undo'))
);
--> statement-breakpoint
CREATE TABLE "rule_event" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "rule_event_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint,
	"group_id" bigint,
	"what" text NOT NULL,
	"depth" smallint DEFAULT 0 NOT NULL,
	"is_quiet" boolean DEFAULT false NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "rule_event_what" CHECK ("rule_event"."what" in ('people', 'access', 'progress', 'day'))
);
--> statement-breakpoint
CREATE TABLE "rule_hold" (
	"rule_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"since" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "rule_hold_rule_id_person_id_pk" PRIMARY KEY("rule_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "rule_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "rule_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"rule_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"name" text NOT NULL,
	"set_off" jsonb NOT NULL,
	"filter" jsonb NOT NULL,
	"acts" jsonb NOT NULL,
	"is_on" boolean NOT NULL,
	"on_since" timestamp with time zone,
	"made_by" bigint NOT NULL,
	"maker_branch_id" bigint,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "rule_version_on_since" CHECK ("rule_version"."is_on" = ("rule_version"."on_since" is not null)),
	CONSTRAINT "rule_version_in_order" CHECK ("rule_version"."until_at" >= "rule_version"."from_at")
);
--> statement-breakpoint
ALTER TABLE "change_log" ADD COLUMN "rule_id" bigint;--> statement-breakpoint
ALTER TABLE "rule_act" ADD CONSTRAINT "rule_act_rule_id_rule_id_fk" FOREIGN KEY ("rule_id") REFERENCES "public"."rule"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_act" ADD CONSTRAINT "rule_act_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_act" ADD CONSTRAINT "rule_act_change_id_change_log_id_fk" FOREIGN KEY ("change_id") REFERENCES "public"."change_log"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_hold" ADD CONSTRAINT "rule_hold_rule_id_rule_id_fk" FOREIGN KEY ("rule_id") REFERENCES "public"."rule"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_hold" ADD CONSTRAINT "rule_hold_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_version" ADD CONSTRAINT "rule_version_rule_id_rule_id_fk" FOREIGN KEY ("rule_id") REFERENCES "public"."rule"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_version" ADD CONSTRAINT "rule_version_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_version" ADD CONSTRAINT "rule_version_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_version" ADD CONSTRAINT "rule_version_maker_branch_id_groups_id_fk" FOREIGN KEY ("maker_branch_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "rule_act_person" ON "rule_act" USING btree ("person_id","at");--> statement-breakpoint
CREATE INDEX "rule_act_change" ON "rule_act" USING btree ("change_id");--> statement-breakpoint
CREATE INDEX "rule_hold_person" ON "rule_hold" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "rule_version_standing" ON "rule_version" USING btree ("rule_id") WHERE "rule_version"."until_at" is null;--> statement-breakpoint
CREATE INDEX "rule_version_group" ON "rule_version" USING btree ("group_id") WHERE "rule_version"."until_at" is null;--> statement-breakpoint
CREATE INDEX "rule_version_made_by" ON "rule_version" USING btree ("made_by");--> statement-breakpoint
CREATE INDEX "rule_version_maker_branch" ON "rule_version" USING btree ("maker_branch_id");--> statement-breakpoint
CREATE INDEX "change_log_rule" ON "change_log" USING btree ("rule_id");