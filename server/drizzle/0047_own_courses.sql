DROP INDEX "course_version_name";--> statement-breakpoint
DROP INDEX "course_version_code";--> statement-breakpoint
ALTER TABLE "activity_version" ADD COLUMN "content" jsonb;--> statement-breakpoint
ALTER TABLE "course_version" ADD COLUMN "home_id" bigint;--> statement-breakpoint
ALTER TABLE "course_version" ADD CONSTRAINT "course_version_home_id_groups_id_fk" FOREIGN KEY ("home_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "course_version_home" ON "course_version" USING btree ("home_id") WHERE "course_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "course_version_name" ON "course_version" USING btree (coalesce("home_id", 0),"name_key") WHERE "course_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "course_version_code" ON "course_version" USING btree (coalesce("home_id", 0),"code") WHERE "course_version"."until_at" is null;--> statement-breakpoint
ALTER TABLE "course_version" ADD CONSTRAINT "course_version_home_terms" CHECK ("course_version"."home_id" is null or "course_version"."terms" = 'group');--> statement-breakpoint
CREATE OR REPLACE VIEW course_now AS SELECT course_id AS id, v.* FROM course_version v WHERE until_at IS NULL;
--> statement-breakpoint
CREATE OR REPLACE VIEW activity_now AS SELECT activity_id AS id, v.* FROM activity_version v WHERE until_at IS NULL;
--> statement-breakpoint
-- Leaders who hold every power hold the new one too.
UPDATE leadership SET powers = powers || '{makeCourses}'::text[] WHERE powers @> '{seeProgress,helpSignIn,decideEntry,managePeople,shapeGroups,appointLeaders,openCourses,handOutSeats,orderSeats,markWork,writeMessages,export}'::text[] AND NOT powers @> '{makeCourses}'::text[];
--> statement-breakpoint
UPDATE invitation SET powers = powers || '{makeCourses}'::text[] WHERE powers @> '{seeProgress,helpSignIn,decideEntry,managePeople,shapeGroups,appointLeaders,openCourses,handOutSeats,orderSeats,markWork,writeMessages,export}'::text[] AND NOT powers @> '{makeCourses}'::text[];
--> statement-breakpoint
UPDATE join_code_version SET powers = powers || '{makeCourses}'::text[] WHERE powers @> '{seeProgress,helpSignIn,decideEntry,managePeople,shapeGroups,appointLeaders,openCourses,handOutSeats,orderSeats,markWork,writeMessages,export}'::text[] AND NOT powers @> '{makeCourses}'::text[];
