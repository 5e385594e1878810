ALTER TABLE "entitlement" DROP CONSTRAINT "entitlement_set_id_membership_set_id_fk";
--> statement-breakpoint
ALTER TABLE "entitlement" DROP CONSTRAINT "entitlement_course_id_course_id_fk";
