ALTER TABLE "kept_view" ADD COLUMN "frozen" jsonb;--> statement-breakpoint
ALTER TABLE "kept_view" ADD COLUMN "frozen_day" date;