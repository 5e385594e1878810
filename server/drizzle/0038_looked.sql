ALTER TABLE "person" ADD COLUMN "looked_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "looked_before" timestamp with time zone;