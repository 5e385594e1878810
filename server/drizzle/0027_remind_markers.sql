ALTER TABLE "organisation" ADD COLUMN "mark_reminder_days" smallint DEFAULT 3 NOT NULL;--> statement-breakpoint
ALTER TABLE "work_version" ADD COLUMN "reminded_at" timestamp with time zone;