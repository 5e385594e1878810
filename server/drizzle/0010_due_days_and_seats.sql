CREATE TABLE "branch_day" (
	"ancestor_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"from_day" date,
	"until_day" date
);
--> statement-breakpoint
CREATE TABLE "derived_version" (
	"version" integer PRIMARY KEY NOT NULL
);
--> statement-breakpoint
ALTER TABLE "organisation" ADD COLUMN "due_soon_days" smallint DEFAULT 7 NOT NULL;--> statement-breakpoint
ALTER TABLE "organisation" ADD COLUMN "undo_days" smallint DEFAULT 180 NOT NULL;--> statement-breakpoint
ALTER TABLE "entitlement" ADD COLUMN "needs_seat" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "entitlement" ADD COLUMN "payers" bigint[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "entitlement" ADD COLUMN "other_payers" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "entitlement_due" ADD COLUMN "grant_id" bigint;--> statement-breakpoint
ALTER TABLE "access_grant" ADD COLUMN "made_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "enrolment" ADD COLUMN "done_by_narrowing" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "branch_day" ADD CONSTRAINT "branch_day_ancestor_id_groups_id_fk" FOREIGN KEY ("ancestor_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "branch_day" ADD CONSTRAINT "branch_day_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "branch_day_group" ON "branch_day" USING btree ("group_id","ancestor_id");--> statement-breakpoint
UPDATE access_grant SET made_at = from_at;
--> statement-breakpoint
DROP FUNCTION own_due_day(bigint, bigint);
