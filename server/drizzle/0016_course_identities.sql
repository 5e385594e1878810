DROP TABLE "course_set_course";--> statement-breakpoint
DROP TABLE "course_terms";--> statement-breakpoint
ALTER TABLE "activity" DROP CONSTRAINT "activity_position";--> statement-breakpoint
ALTER TABLE "course" DROP CONSTRAINT "course_nameKey_unique";--> statement-breakpoint
ALTER TABLE "course_set" DROP CONSTRAINT "course_set_nameKey_unique";--> statement-breakpoint
ALTER TABLE "unit" DROP CONSTRAINT "unit_position";--> statement-breakpoint
ALTER TABLE "course" DROP CONSTRAINT "course_pass_score";--> statement-breakpoint
ALTER TABLE "activity" DROP CONSTRAINT "activity_unit_id_unit_id_fk";
--> statement-breakpoint
ALTER TABLE "activity" DROP COLUMN "unit_id";--> statement-breakpoint
ALTER TABLE "activity" DROP COLUMN "position";--> statement-breakpoint
ALTER TABLE "activity" DROP COLUMN "name";--> statement-breakpoint
ALTER TABLE "activity" DROP COLUMN "scored";--> statement-breakpoint
ALTER TABLE "course" DROP COLUMN "name";--> statement-breakpoint
ALTER TABLE "course" DROP COLUMN "name_key";--> statement-breakpoint
ALTER TABLE "course" DROP COLUMN "description";--> statement-breakpoint
ALTER TABLE "course" DROP COLUMN "pass_score";--> statement-breakpoint
ALTER TABLE "course" DROP COLUMN "done_by_activities";--> statement-breakpoint
ALTER TABLE "course" DROP COLUMN "valid_months";--> statement-breakpoint
ALTER TABLE "course" DROP COLUMN "reopens_days";--> statement-breakpoint
ALTER TABLE "course_set" DROP COLUMN "name";--> statement-breakpoint
ALTER TABLE "course_set" DROP COLUMN "name_key";--> statement-breakpoint
ALTER TABLE "course_set" DROP COLUMN "position";--> statement-breakpoint
ALTER TABLE "unit" DROP COLUMN "position";--> statement-breakpoint
ALTER TABLE "unit" DROP COLUMN "name";
--> statement-breakpoint
-- A course that a change made was noted by its number; now by its first version.
UPDATE change_subject s SET after_row = v.row_id FROM course_version v WHERE s.kind = 'course' AND v.course_id = s.after_row;
--> statement-breakpoint
ALTER TABLE activity ALTER COLUMN course_id SET NOT NULL;
