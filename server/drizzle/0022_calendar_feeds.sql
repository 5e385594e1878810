CREATE TABLE "calendar_feed" (
	"person_id" bigint PRIMARY KEY NOT NULL,
	"hash" text NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"read_at" timestamp with time zone,
	CONSTRAINT "calendar_feed_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
ALTER TABLE "calendar_feed" ADD CONSTRAINT "calendar_feed_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;