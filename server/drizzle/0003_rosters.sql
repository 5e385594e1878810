CREATE TABLE "handout" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "handout_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"group_id" bigint NOT NULL,
	"title" text NOT NULL,
	"url" text,
	"upload_id" bigint,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "handout_one" CHECK (num_nonnulls("handout"."url", "handout"."upload_id") = 1)
);
--> statement-breakpoint
CREATE TABLE "upload" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "upload_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"file_name" text NOT NULL,
	"mime_type" text NOT NULL,
	"content" "bytea" NOT NULL,
	"made_by" bigint NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "personal_list" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "personal_list_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"owner_id" bigint NOT NULL,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "personal_list_person" (
	"list_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	CONSTRAINT "personal_list_person_list_id_person_id_pk" PRIMARY KEY("list_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "tag_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "tag_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"tag_id" bigint NOT NULL,
	"branch_id" bigint NOT NULL,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"colour" text,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "invitation" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "invitation_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"group_id" bigint NOT NULL,
	"email" "citext" NOT NULL,
	"given_name" text NOT NULL,
	"family_name" text NOT NULL,
	"powers" text[],
	"first_day" date,
	"last_day" date,
	"hash" text NOT NULL,
	"ends_at" timestamp with time zone NOT NULL,
	"accepted_at" timestamp with time zone,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "letter" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "letter_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint,
	"address" "citext" NOT NULL,
	"subject" text NOT NULL,
	"body" text NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "restored_row" (
	"kind" text NOT NULL,
	"was_row" bigint NOT NULL,
	"now_row" bigint NOT NULL,
	CONSTRAINT "restored_row_kind_was_row_pk" PRIMARY KEY("kind","was_row")
);
--> statement-breakpoint
CREATE TABLE "one_time_link" (
	"hash" text PRIMARY KEY NOT NULL,
	"person_id" bigint NOT NULL,
	"ends_at" timestamp with time zone NOT NULL,
	"used_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "tag" DROP CONSTRAINT "tag_name";--> statement-breakpoint
DROP INDEX "groups_id_number";--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "erased_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "change_subject" ADD COLUMN "before" jsonb;--> statement-breakpoint
ALTER TABLE "group_version" ADD COLUMN "id_number" text;--> statement-breakpoint
ALTER TABLE "group_version" ADD COLUMN "id_issuer" bigint;--> statement-breakpoint
ALTER TABLE "group_version" ADD COLUMN "description" text;--> statement-breakpoint
ALTER TABLE "group_version" ADD COLUMN "colour" text;--> statement-breakpoint
ALTER TABLE "group_version" ADD COLUMN "picture_id" bigint;--> statement-breakpoint
ALTER TABLE "group_version" ADD COLUMN "contact_id" bigint;--> statement-breakpoint
ALTER TABLE "group_version" ADD COLUMN "sign_in_prefix" text;--> statement-breakpoint
ALTER TABLE "group_version" ADD COLUMN "young_learners" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "handout" ADD CONSTRAINT "handout_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "handout" ADD CONSTRAINT "handout_upload_id_upload_id_fk" FOREIGN KEY ("upload_id") REFERENCES "public"."upload"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "personal_list" ADD CONSTRAINT "personal_list_owner_id_person_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "personal_list_person" ADD CONSTRAINT "personal_list_person_list_id_personal_list_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."personal_list"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "personal_list_person" ADD CONSTRAINT "personal_list_person_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tag_version" ADD CONSTRAINT "tag_version_tag_id_tag_id_fk" FOREIGN KEY ("tag_id") REFERENCES "public"."tag"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tag_version" ADD CONSTRAINT "tag_version_branch_id_groups_id_fk" FOREIGN KEY ("branch_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitation" ADD CONSTRAINT "invitation_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "letter" ADD CONSTRAINT "letter_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "one_time_link" ADD CONSTRAINT "one_time_link_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "handout_group" ON "handout" USING btree ("group_id") WHERE "handout"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "personal_list_name" ON "personal_list" USING btree ("owner_id","name_key");--> statement-breakpoint
CREATE INDEX "personal_list_person_person" ON "personal_list_person" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "tag_version_standing" ON "tag_version" USING btree ("tag_id") WHERE "tag_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "tag_version_name" ON "tag_version" USING btree ("branch_id","name_key") WHERE "tag_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "invitation_hash" ON "invitation" USING btree ("hash");--> statement-breakpoint
CREATE UNIQUE INDEX "invitation_standing" ON "invitation" USING btree ("group_id","email") WHERE "invitation"."until_at" is null;--> statement-breakpoint
CREATE INDEX "invitation_email" ON "invitation" USING btree ("email");--> statement-breakpoint
CREATE INDEX "letter_person" ON "letter" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "one_time_link_person" ON "one_time_link" USING btree ("person_id");--> statement-breakpoint
ALTER TABLE "group_version" ADD CONSTRAINT "group_version_id_issuer_groups_id_fk" FOREIGN KEY ("id_issuer") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "group_version" ADD CONSTRAINT "group_version_picture_id_upload_id_fk" FOREIGN KEY ("picture_id") REFERENCES "public"."upload"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
UPDATE group_version v SET id_number = g.id_number, id_issuer = g.id_issuer, description = g.description, sign_in_prefix = g.sign_in_prefix, young_learners = g.young_learners
  FROM groups g WHERE g.id = v.group_id;--> statement-breakpoint
INSERT INTO tag_version (tag_id, branch_id, name, name_key, colour) SELECT id, branch_id, name, name_key, colour FROM tag;--> statement-breakpoint
DROP VIEW group_now;--> statement-breakpoint
CREATE UNIQUE INDEX "group_version_id_number" ON "group_version" USING btree ("id_issuer","id_number") WHERE "group_version"."until_at" is null and "group_version"."id_number" is not null;--> statement-breakpoint
ALTER TABLE "groups" DROP COLUMN "id_number";--> statement-breakpoint
ALTER TABLE "groups" DROP COLUMN "id_issuer";--> statement-breakpoint
ALTER TABLE "groups" DROP COLUMN "description";--> statement-breakpoint
ALTER TABLE "groups" DROP COLUMN "sign_in_prefix";--> statement-breakpoint
ALTER TABLE "groups" DROP COLUMN "young_learners";--> statement-breakpoint
ALTER TABLE "tag" DROP COLUMN "name";--> statement-breakpoint
ALTER TABLE "tag" DROP COLUMN "name_key";--> statement-breakpoint
ALTER TABLE "tag" DROP COLUMN "colour";--> statement-breakpoint
CREATE VIEW group_now AS SELECT group_id AS id, v.* FROM group_version v WHERE until_at IS NULL;
--> statement-breakpoint
CREATE VIEW tag_now AS SELECT tag_id AS id, row_id, branch_id, name, name_key, colour FROM tag_version WHERE until_at IS NULL;
