ALTER TABLE "seat_line" RENAME COLUMN "id" TO "row_id";--> statement-breakpoint
ALTER TABLE "seat_line" ADD COLUMN "from_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
UPDATE "seat_line" SET "from_at" = "since";