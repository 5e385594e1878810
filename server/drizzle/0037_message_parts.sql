ALTER TABLE "message" ADD COLUMN "closed_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "message_reader" ADD COLUMN "own_words" text;--> statement-breakpoint
ALTER TABLE "message_version" ADD COLUMN "closes" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "message_version" ADD COLUMN "activity_id" bigint;--> statement-breakpoint
ALTER TABLE "message_version" ADD COLUMN "own_words" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "message_version" ADD COLUMN "is_named" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "message_version" ADD COLUMN "tally" text DEFAULT 'leaders' NOT NULL;--> statement-breakpoint
ALTER TABLE "message_version" ADD COLUMN "tags" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "message_version" ADD COLUMN "file_ids" bigint[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "message_version" ADD CONSTRAINT "message_version_activity_id_activity_id_fk" FOREIGN KEY ("activity_id") REFERENCES "public"."activity"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "message_version_activity" ON "message_version" USING btree ("activity_id") WHERE "message_version"."until_at" is null;--> statement-breakpoint
ALTER TABLE "message_version" ADD CONSTRAINT "message_version_tally" CHECK ("message_version"."tally" in ('leaders', 'who chose', 'after due'));