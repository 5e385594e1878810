CREATE TABLE "confirm_link" (
	"hash" text PRIMARY KEY NOT NULL,
	"code_id" bigint NOT NULL,
	"email" "citext" NOT NULL,
	"ends_at" timestamp with time zone NOT NULL,
	"used_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "job" (
	"id" uuid PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"given" jsonb NOT NULL,
	"made_by" bigint,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"starts_at" timestamp with time zone DEFAULT now() NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"done" integer DEFAULT 0 NOT NULL,
	"of_all" integer,
	"outcome" jsonb,
	"tries" integer DEFAULT 0 NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "join_code" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "join_code_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"uses" integer DEFAULT 0 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "join_code_use" (
	"code_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "join_code_use_code_id_person_id_pk" PRIMARY KEY("code_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "join_code_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "join_code_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"code_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"group_ids" bigint[] NOT NULL,
	"code" text NOT NULL,
	"code_key" text NOT NULL,
	"is_chosen" boolean DEFAULT false NOT NULL,
	"made_by" bigint,
	"note" text,
	"tags" text[] NOT NULL,
	"powers" text[],
	"first_at" timestamp with time zone,
	"last_at" timestamp with time zone,
	"use_limit" integer,
	"email_ending" text,
	"needs_decision" boolean DEFAULT false NOT NULL,
	"paused" boolean DEFAULT false NOT NULL,
	"asks" jsonb NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "join_code_version_limit" CHECK ("join_code_version"."use_limit" > 0),
	CONSTRAINT "join_code_version_moments" CHECK ("join_code_version"."first_at" <= "join_code_version"."last_at"),
	CONSTRAINT "join_code_version_chosen" CHECK (not "join_code_version"."is_chosen" or ("join_code_version"."use_limit" is not null and "join_code_version"."last_at" is not null)),
	CONSTRAINT "join_code_version_groups" CHECK ("join_code_version"."group_id" = "join_code_version"."group_ids"[1])
);
--> statement-breakpoint
CREATE TABLE "join_request" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "join_request_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"code_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"answers" jsonb NOT NULL,
	"state" text NOT NULL,
	"asked_at" timestamp with time zone DEFAULT now() NOT NULL,
	"word" text,
	"decided_by" bigint,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "join_request_state" CHECK ("join_request"."state" in ('asking', 'let in', 'turned away'))
);
--> statement-breakpoint
CREATE TABLE "kept_mapping" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "kept_mapping_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"owner_id" bigint NOT NULL,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"headers_key" text NOT NULL,
	"columns" jsonb NOT NULL,
	"date_order" text,
	"used_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "kept_mend" (
	"owner_id" bigint NOT NULL,
	"field" text NOT NULL,
	"was_key" text NOT NULL,
	"becomes" text NOT NULL,
	"used_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "kept_mend_owner_id_field_was_key_pk" PRIMARY KEY("owner_id","field","was_key")
);
--> statement-breakpoint
CREATE TABLE "roster_file" (
	"id" uuid PRIMARY KEY NOT NULL,
	"made_by" bigint NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "roster_part" (
	"file_id" uuid NOT NULL,
	"part" integer NOT NULL,
	"rows" jsonb NOT NULL,
	CONSTRAINT "roster_part_file_id_part_pk" PRIMARY KEY("file_id","part")
);
--> statement-breakpoint
CREATE TABLE "sign_in_trouble" (
	"number" text PRIMARY KEY NOT NULL,
	"person_id" bigint,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"ends_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "letter_template" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "letter_template_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"group_id" bigint NOT NULL,
	"kind" text NOT NULL,
	"subject" text NOT NULL,
	"body" text NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "received_mail" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "received_mail_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"recipient" "citext" NOT NULL,
	"subject" text NOT NULL,
	"plain" text NOT NULL,
	"html" text NOT NULL,
	"received_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "membership" ADD COLUMN "join_code_id" bigint;--> statement-breakpoint
ALTER TABLE "personal" ADD COLUMN "guardian_email" "citext";--> statement-breakpoint
ALTER TABLE "personal" ADD COLUMN "confirmed_email" "citext";--> statement-breakpoint
ALTER TABLE "invitation" ADD COLUMN "also_groups" bigint[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "invitation" ADD COLUMN "words" text;--> statement-breakpoint
ALTER TABLE "invitation" ADD COLUMN "opened_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "invitation_id" bigint;--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "send_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "state" text DEFAULT 'waiting' NOT NULL;--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "tries" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "sent_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "trouble" text;--> statement-breakpoint
ALTER TABLE "one_time_link" ADD COLUMN "kind" text DEFAULT 'link' NOT NULL;--> statement-breakpoint
ALTER TABLE "one_time_link" ADD COLUMN "group_id" bigint;--> statement-breakpoint
ALTER TABLE "one_time_link" ADD COLUMN "by_letter" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "one_time_link" ADD COLUMN "made_by" bigint;--> statement-breakpoint
ALTER TABLE "one_time_link" ADD COLUMN "made_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "confirm_link" ADD CONSTRAINT "confirm_link_code_id_join_code_id_fk" FOREIGN KEY ("code_id") REFERENCES "public"."join_code"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job" ADD CONSTRAINT "job_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_code_use" ADD CONSTRAINT "join_code_use_code_id_join_code_id_fk" FOREIGN KEY ("code_id") REFERENCES "public"."join_code"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_code_use" ADD CONSTRAINT "join_code_use_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_code_version" ADD CONSTRAINT "join_code_version_code_id_join_code_id_fk" FOREIGN KEY ("code_id") REFERENCES "public"."join_code"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_code_version" ADD CONSTRAINT "join_code_version_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_code_version" ADD CONSTRAINT "join_code_version_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_request" ADD CONSTRAINT "join_request_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_request" ADD CONSTRAINT "join_request_code_id_join_code_id_fk" FOREIGN KEY ("code_id") REFERENCES "public"."join_code"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_request" ADD CONSTRAINT "join_request_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_request" ADD CONSTRAINT "join_request_decided_by_person_id_fk" FOREIGN KEY ("decided_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_mapping" ADD CONSTRAINT "kept_mapping_owner_id_person_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_mend" ADD CONSTRAINT "kept_mend_owner_id_person_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "roster_file" ADD CONSTRAINT "roster_file_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "roster_part" ADD CONSTRAINT "roster_part_file_id_roster_file_id_fk" FOREIGN KEY ("file_id") REFERENCES "public"."roster_file"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "letter_template" ADD CONSTRAINT "letter_template_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "job_waiting" ON "job" USING btree ("starts_at") WHERE "job"."state" = 'waiting';--> statement-breakpoint
CREATE INDEX "join_code_use_person" ON "join_code_use" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "join_code_version_standing" ON "join_code_version" USING btree ("code_id") WHERE "join_code_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "join_code_version_key" ON "join_code_version" USING btree ("code_key") WHERE "join_code_version"."until_at" is null;--> statement-breakpoint
CREATE INDEX "join_code_version_group" ON "join_code_version" USING btree ("group_id") WHERE "join_code_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "join_request_standing" ON "join_request" USING btree ("person_id","group_id") WHERE "join_request"."until_at" is null;--> statement-breakpoint
CREATE INDEX "join_request_group" ON "join_request" USING btree ("group_id") WHERE "join_request"."until_at" is null and "join_request"."state" = 'asking';--> statement-breakpoint
CREATE UNIQUE INDEX "kept_mapping_name" ON "kept_mapping" USING btree ("owner_id","name_key");--> statement-breakpoint
CREATE INDEX "kept_mapping_headers" ON "kept_mapping" USING btree ("owner_id","headers_key");--> statement-breakpoint
CREATE INDEX "sign_in_trouble_person" ON "sign_in_trouble" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "letter_template_standing" ON "letter_template" USING btree ("group_id","kind") WHERE "letter_template"."until_at" is null;--> statement-breakpoint
ALTER TABLE "one_time_link" ADD CONSTRAINT "one_time_link_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "one_time_link" ADD CONSTRAINT "one_time_link_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "letter_invitation" ON "letter" USING btree ("invitation_id");--> statement-breakpoint
CREATE INDEX "letter_waiting" ON "letter" USING btree ("send_at") WHERE "letter"."state" = 'waiting';--> statement-breakpoint
ALTER TABLE "letter" ADD CONSTRAINT "letter_state" CHECK ("letter"."state" in ('waiting', 'sent', 'bounced'));--> statement-breakpoint
ALTER TABLE "one_time_link" ADD CONSTRAINT "one_time_link_kind" CHECK ("one_time_link"."kind" in ('link', 'card', 'lasting'));--> statement-breakpoint
ALTER TABLE "one_time_link" ADD CONSTRAINT "one_time_link_lasting_group" CHECK (("one_time_link"."kind" = 'lasting') = ("one_time_link"."group_id" is not null));
--> statement-breakpoint
-- The columns that came since; a view keeps those it was made with.
CREATE OR REPLACE VIEW personal_now AS SELECT * FROM personal WHERE until_at IS NULL;
--> statement-breakpoint
-- Letters of before this version have gone already.
UPDATE letter SET state = 'sent', sent_at = made_at;
--> statement-breakpoint
-- Which names like a wished one are taken, whatever digits they end in.
CREATE INDEX personal_sign_in_base ON personal (regexp_replace(lower(sign_in_name::text), '\d+$', '')) WHERE until_at IS NULL;
--> statement-breakpoint
CREATE INDEX job_by_maker ON job (made_by, made_at);
