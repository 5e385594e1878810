DROP INDEX "invitation_hash";--> statement-breakpoint
CREATE UNIQUE INDEX "invitation_hash" ON "invitation" USING btree ("hash") WHERE "invitation"."until_at" is null;