ALTER TABLE "work" ADD COLUMN "person_id" bigint;--> statement-breakpoint
UPDATE work w SET person_id = e.person_id FROM enrolment e WHERE e.id = w.enrolment_id;--> statement-breakpoint
ALTER TABLE "work" ALTER COLUMN "person_id" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "work" ADD CONSTRAINT "work_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "work_person" ON "work" USING btree ("person_id");
