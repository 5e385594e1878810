ALTER TABLE "course_version" ADD COLUMN "tags" text[] DEFAULT '{}' NOT NULL;
--> statement-breakpoint
CREATE OR REPLACE VIEW course_now AS SELECT course_id AS id, v.* FROM course_version v WHERE until_at IS NULL;
