CREATE TABLE "split" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "split_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1)
);
--> statement-breakpoint
CREATE TABLE "split_member" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "split_member_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"split_id" bigint NOT NULL,
	"part" smallint NOT NULL,
	"person_id" bigint NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "split_member_in_order" CHECK ("split_member"."until_at" >= "split_member"."from_at")
);
--> statement-breakpoint
CREATE TABLE "split_use" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "split_use_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"split_id" bigint NOT NULL,
	"licence_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "split_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "split_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"split_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"name" text NOT NULL,
	"parts" jsonb NOT NULL,
	"runs_from" timestamp with time zone,
	"runs_until" timestamp with time zone,
	"made_by" bigint NOT NULL,
	"maker_branch_id" bigint,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "split_version_runs" CHECK (num_nulls("split_version"."runs_from", "split_version"."runs_until") in (0, 2) and coalesce("split_version"."runs_from" < "split_version"."runs_until", true)),
	CONSTRAINT "split_version_in_order" CHECK ("split_version"."until_at" >= "split_version"."from_at")
);
--> statement-breakpoint
ALTER TABLE "licence_version" ADD COLUMN "during_splits" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "split_member" ADD CONSTRAINT "split_member_split_id_split_id_fk" FOREIGN KEY ("split_id") REFERENCES "public"."split"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "split_member" ADD CONSTRAINT "split_member_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "split_use" ADD CONSTRAINT "split_use_split_id_split_id_fk" FOREIGN KEY ("split_id") REFERENCES "public"."split"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "split_use" ADD CONSTRAINT "split_use_licence_id_licence_id_fk" FOREIGN KEY ("licence_id") REFERENCES "public"."licence"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "split_use" ADD CONSTRAINT "split_use_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "split_use" ADD CONSTRAINT "split_use_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "split_version" ADD CONSTRAINT "split_version_split_id_split_id_fk" FOREIGN KEY ("split_id") REFERENCES "public"."split"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "split_version" ADD CONSTRAINT "split_version_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "split_version" ADD CONSTRAINT "split_version_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "split_version" ADD CONSTRAINT "split_version_maker_branch_id_groups_id_fk" FOREIGN KEY ("maker_branch_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "split_member_standing" ON "split_member" USING btree ("split_id","person_id") WHERE "split_member"."until_at" is null;--> statement-breakpoint
CREATE INDEX "split_member_person" ON "split_member" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "split_use_group" ON "split_use" USING btree ("group_id");--> statement-breakpoint
CREATE INDEX "split_use_person" ON "split_use" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "split_version_standing" ON "split_version" USING btree ("split_id") WHERE "split_version"."until_at" is null;--> statement-breakpoint
CREATE INDEX "split_version_group" ON "split_version" USING btree ("group_id") WHERE "split_version"."until_at" is null;--> statement-breakpoint
CREATE INDEX "split_version_split" ON "split_version" USING btree ("split_id","until_at");--> statement-breakpoint
CREATE INDEX "split_version_made_by" ON "split_version" USING btree ("made_by");--> statement-breakpoint
CREATE INDEX "split_version_maker_branch" ON "split_version" USING btree ("maker_branch_id");--> statement-breakpoint
CREATE OR REPLACE VIEW licence_now AS SELECT * FROM licence_version WHERE until_at IS NULL;
