CREATE TABLE "activity" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "activity_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"unit_id" bigint NOT NULL,
	"position" smallint NOT NULL,
	"name" text NOT NULL,
	"scored" boolean NOT NULL,
	CONSTRAINT "activity_position" UNIQUE("unit_id","position")
);
--> statement-breakpoint
CREATE TABLE "activity_result" (
	"enrolment_id" bigint NOT NULL,
	"activity_id" bigint NOT NULL,
	"finished" boolean NOT NULL,
	"score" double precision,
	"tries" integer DEFAULT 1 NOT NULL,
	"last_at" timestamp with time zone NOT NULL,
	CONSTRAINT "activity_result_enrolment_id_activity_id_pk" PRIMARY KEY("enrolment_id","activity_id"),
	CONSTRAINT "activity_result_score" CHECK ("activity_result"."score" between 0 and 100)
);
--> statement-breakpoint
CREATE TABLE "change_group" (
	"change_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	CONSTRAINT "change_group_change_id_group_id_pk" PRIMARY KEY("change_id","group_id")
);
--> statement-breakpoint
CREATE TABLE "change_log" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "change_log_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"request_id" uuid NOT NULL,
	"kind" text NOT NULL,
	"actor_id" bigint,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"summary" jsonb NOT NULL,
	"undo_of" bigint,
	"undone_by" bigint,
	CONSTRAINT "change_log_requestId_unique" UNIQUE("request_id")
);
--> statement-breakpoint
CREATE TABLE "change_subject" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "change_subject_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"change_id" bigint NOT NULL,
	"kind" text NOT NULL,
	"person_id" bigint,
	"group_id" bigint,
	"before_row" bigint,
	"after_row" bigint,
	CONSTRAINT "change_subject_some" CHECK (num_nonnulls("change_subject"."before_row", "change_subject"."after_row") > 0)
);
--> statement-breakpoint
CREATE TABLE "course" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "course_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"source_id" bigint,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"description" text,
	"pass_score" smallint,
	"done_by_activities" bigint[],
	"valid_months" smallint,
	"reopens_days" smallint,
	CONSTRAINT "course_nameKey_unique" UNIQUE("name_key"),
	CONSTRAINT "course_pass_score" CHECK ("course"."pass_score" between 0 and 100)
);
--> statement-breakpoint
CREATE TABLE "course_set" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "course_set_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"position" smallint DEFAULT 0 NOT NULL,
	CONSTRAINT "course_set_nameKey_unique" UNIQUE("name_key")
);
--> statement-breakpoint
CREATE TABLE "course_set_course" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "course_set_course_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"course_set_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "course_terms" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "course_terms_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"course_id" bigint NOT NULL,
	"terms" text NOT NULL,
	"archived" boolean DEFAULT false NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "course_terms_terms" CHECK ("course_terms"."terms" in ('everyone', 'group', 'request'))
);
--> statement-breakpoint
CREATE TABLE "credential" (
	"person_id" bigint PRIMARY KEY NOT NULL,
	"password_hash" text NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "day_turn" (
	"day" date PRIMARY KEY NOT NULL,
	"done_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "enrolment" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "enrolment_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"round" smallint DEFAULT 1 NOT NULL,
	"is_current" boolean DEFAULT true NOT NULL,
	"round_opened_day" date,
	"status" text NOT NULL,
	"begun_at" timestamp with time zone,
	"done_at" timestamp with time zone,
	"done_day" date,
	"score" double precision,
	"finished_activities" smallint DEFAULT 0 NOT NULL,
	"exempt" boolean DEFAULT false NOT NULL,
	"exempt_reason" text,
	"done_elsewhere" boolean DEFAULT false NOT NULL,
	"elsewhere_reason" text,
	"seat_id" bigint,
	"via_groups" bigint[] DEFAULT '{}' NOT NULL,
	CONSTRAINT "enrolment_round" UNIQUE("person_id","course_id","round"),
	CONSTRAINT "enrolment_status" CHECK ("enrolment"."status" in ('not begun', 'under way', 'done')),
	CONSTRAINT "enrolment_done_has_day" CHECK (("enrolment"."status" = 'done') = ("enrolment"."done_day" is not null)),
	CONSTRAINT "enrolment_score" CHECK ("enrolment"."score" between 0 and 100)
);
--> statement-breakpoint
CREATE TABLE "entitlement" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "entitlement_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"set_id" bigint,
	"person_id" bigint,
	"course_id" bigint NOT NULL,
	"first_day" date,
	"last_day" date,
	"units" bigint[] NOT NULL,
	"via_groups" bigint[] NOT NULL,
	"by_grants" bigint[] NOT NULL,
	"due_day" date,
	"due_is_own" boolean DEFAULT false NOT NULL,
	CONSTRAINT "entitlement_for_one" CHECK (num_nonnulls("entitlement"."set_id", "entitlement"."person_id") = 1)
);
--> statement-breakpoint
CREATE TABLE "entitlement_due" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "entitlement_due_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"entitlement_id" bigint NOT NULL,
	"group_id" bigint,
	"grant_day" date,
	"due_day" date,
	"due_days" integer,
	"least_days" integer,
	"firm" boolean NOT NULL
);
--> statement-breakpoint
CREATE TABLE "access_grant" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "access_grant_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"group_id" bigint,
	"person_id" bigint,
	"with_subgroups" boolean DEFAULT true NOT NULL,
	"course_id" bigint,
	"course_set_id" bigint,
	"effect" text NOT NULL,
	"firm" boolean DEFAULT false NOT NULL,
	"first_day" date,
	"last_day" date,
	"units" bigint[],
	"due_day" date,
	"due_days" integer,
	"due_least_days" integer,
	"due_firm" boolean DEFAULT false NOT NULL,
	"licences" bigint[],
	"other_licences" boolean DEFAULT true NOT NULL,
	"note" text,
	"maker_branch_id" bigint,
	"made_by" bigint,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "access_grant_for_one" CHECK (num_nonnulls("access_grant"."group_id", "access_grant"."person_id") = 1),
	CONSTRAINT "access_grant_about_one" CHECK (num_nonnulls("access_grant"."course_id", "access_grant"."course_set_id") = 1),
	CONSTRAINT "access_grant_effect" CHECK ("access_grant"."effect" in ('open', 'block')),
	CONSTRAINT "access_grant_units_of_course" CHECK ("access_grant"."units" is null or "access_grant"."course_id" is not null),
	CONSTRAINT "access_grant_firm_blocks" CHECK (not "access_grant"."firm" or "access_grant"."effect" = 'block'),
	CONSTRAINT "access_grant_due_opens" CHECK ("access_grant"."effect" = 'open' or num_nonnulls("access_grant"."due_day", "access_grant"."due_days", "access_grant"."due_least_days") = 0),
	CONSTRAINT "access_grant_one_due" CHECK (num_nonnulls("access_grant"."due_day", "access_grant"."due_days") <= 1),
	CONSTRAINT "access_grant_days" CHECK ("access_grant"."first_day" <= "access_grant"."last_day")
);
--> statement-breakpoint
CREATE TABLE "group_branch" (
	"ancestor_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"depth" integer NOT NULL,
	CONSTRAINT "group_branch_ancestor_id_group_id_pk" PRIMARY KEY("ancestor_id","group_id")
);
--> statement-breakpoint
CREATE TABLE "group_tag" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "group_tag_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"group_id" bigint NOT NULL,
	"tag_id" bigint NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "group_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "group_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"group_id" bigint NOT NULL,
	"parent_id" bigint,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"state" text DEFAULT 'active' NOT NULL,
	"first_day" date,
	"last_day" date,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "group_version_days" CHECK ("group_version"."first_day" <= "group_version"."last_day"),
	CONSTRAINT "group_version_state" CHECK ("group_version"."state" in ('active', 'archived')),
	CONSTRAINT "group_version_no_self" CHECK ("group_version"."parent_id" <> "group_version"."group_id")
);
--> statement-breakpoint
CREATE TABLE "groups" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "groups_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"id_number" text,
	"id_issuer" bigint,
	"description" text,
	"sign_in_prefix" text,
	"young_learners" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "launch" (
	"id" uuid PRIMARY KEY NOT NULL,
	"person_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"ends_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "leadership" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "leadership_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"powers" text[] NOT NULL,
	"first_day" date,
	"last_day" date,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "leadership_days" CHECK ("leadership"."first_day" <= "leadership"."last_day")
);
--> statement-breakpoint
CREATE TABLE "licence" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "licence_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"seats" integer NOT NULL,
	"first_day" date,
	"last_day" date,
	"course_id" bigint,
	"course_set_id" bigint,
	"home_group_id" bigint NOT NULL,
	"on_leaving" text NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "licence_seats" CHECK ("licence"."seats" >= 0),
	CONSTRAINT "licence_about_one" CHECK (num_nonnulls("licence"."course_id", "licence"."course_set_id") = 1),
	CONSTRAINT "licence_on_leaving" CHECK ("licence"."on_leaving" in ('comes back', 'comes back if not begun', 'stays used')),
	CONSTRAINT "licence_days" CHECK ("licence"."first_day" <= "licence"."last_day")
);
--> statement-breakpoint
CREATE TABLE "membership" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "membership_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"first_day" date,
	"last_day" date,
	"came_by" text NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "membership_days" CHECK ("membership"."first_day" <= "membership"."last_day")
);
--> statement-breakpoint
CREATE TABLE "membership_set" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "membership_set_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"key" text NOT NULL,
	"counted" integer DEFAULT 0 NOT NULL,
	"counted_alike" integer DEFAULT 0 NOT NULL,
	CONSTRAINT "membership_set_key_unique" UNIQUE("key")
);
--> statement-breakpoint
CREATE TABLE "membership_set_group" (
	"set_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	CONSTRAINT "membership_set_group_set_id_group_id_pk" PRIMARY KEY("set_id","group_id")
);
--> statement-breakpoint
CREATE TABLE "organisation" (
	"id" smallint PRIMARY KEY DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"time_zone" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "organisation_only_one" CHECK ("organisation"."id" = 1)
);
--> statement-breakpoint
CREATE TABLE "person" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "person_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"role" text DEFAULT 'none' NOT NULL,
	"set_id" bigint NOT NULL,
	"counted" boolean DEFAULT false NOT NULL,
	"own_windows" boolean DEFAULT false NOT NULL,
	"signed_in_at" timestamp with time zone,
	"active_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "person_role" CHECK ("person"."role" in ('administrator', 'none'))
);
--> statement-breakpoint
CREATE TABLE "person_state" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "person_state_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"state" text NOT NULL,
	"first_day" date,
	"last_day" date,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "person_state_days" CHECK ("person_state"."first_day" <= "person_state"."last_day"),
	CONSTRAINT "person_state_state" CHECK ("person_state"."state" in ('asking', 'active', 'paused', 'ended'))
);
--> statement-breakpoint
CREATE TABLE "person_tag" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "person_tag_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"tag_id" bigint NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "personal" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "personal_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"given_name" text NOT NULL,
	"family_name" text NOT NULL,
	"email" "citext",
	"sign_in_name" "citext",
	"id_number" text,
	"id_issuer" bigint,
	"name_hidden" boolean DEFAULT false NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "personal_id_number_issued" CHECK (("personal"."id_number" is null) = ("personal"."id_issuer" is null))
);
--> statement-breakpoint
CREATE TABLE "rate_limit" (
	"key" text PRIMARY KEY NOT NULL,
	"points" integer DEFAULT 0 NOT NULL,
	"expire" bigint
);
--> statement-breakpoint
CREATE TABLE "report" (
	"id" uuid PRIMARY KEY NOT NULL,
	"source_id" bigint NOT NULL,
	"received_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "seat" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "seat_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"licence_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "seat_limit" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "seat_limit_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"licence_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"most" integer NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "seat_limit_most" CHECK ("seat_limit"."most" >= 0)
);
--> statement-breakpoint
CREATE TABLE "seat_line" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "seat_line_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"since" timestamp with time zone NOT NULL,
	"file_row" integer,
	"place" bigint NOT NULL,
	"until_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "session" (
	"sid" text PRIMARY KEY NOT NULL,
	"sess" jsonb NOT NULL,
	"expire" timestamp (6) NOT NULL
);
--> statement-breakpoint
CREATE TABLE "set_in_branch" (
	"ancestor_id" bigint NOT NULL,
	"set_id" bigint NOT NULL,
	CONSTRAINT "set_in_branch_ancestor_id_set_id_pk" PRIMARY KEY("ancestor_id","set_id")
);
--> statement-breakpoint
CREATE TABLE "site_secret" (
	"name" text PRIMARY KEY NOT NULL,
	"value" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "source" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "source_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"key" text NOT NULL,
	"secret" text NOT NULL,
	"name" text NOT NULL,
	CONSTRAINT "source_key_unique" UNIQUE("key")
);
--> statement-breakpoint
CREATE TABLE "tag" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "tag_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"branch_id" bigint NOT NULL,
	"colour" text,
	CONSTRAINT "tag_name" UNIQUE("branch_id","name_key")
);
--> statement-breakpoint
CREATE TABLE "unit" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "unit_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"course_id" bigint NOT NULL,
	"position" smallint NOT NULL,
	"name" text NOT NULL,
	CONSTRAINT "unit_position" UNIQUE("course_id","position")
);
--> statement-breakpoint
ALTER TABLE "activity" ADD CONSTRAINT "activity_unit_id_unit_id_fk" FOREIGN KEY ("unit_id") REFERENCES "public"."unit"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "activity_result" ADD CONSTRAINT "activity_result_enrolment_id_enrolment_id_fk" FOREIGN KEY ("enrolment_id") REFERENCES "public"."enrolment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "activity_result" ADD CONSTRAINT "activity_result_activity_id_activity_id_fk" FOREIGN KEY ("activity_id") REFERENCES "public"."activity"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change_group" ADD CONSTRAINT "change_group_change_id_change_log_id_fk" FOREIGN KEY ("change_id") REFERENCES "public"."change_log"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change_group" ADD CONSTRAINT "change_group_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change_log" ADD CONSTRAINT "change_log_actor_id_person_id_fk" FOREIGN KEY ("actor_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change_subject" ADD CONSTRAINT "change_subject_change_id_change_log_id_fk" FOREIGN KEY ("change_id") REFERENCES "public"."change_log"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course" ADD CONSTRAINT "course_source_id_source_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."source"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_set_course" ADD CONSTRAINT "course_set_course_course_set_id_course_set_id_fk" FOREIGN KEY ("course_set_id") REFERENCES "public"."course_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_set_course" ADD CONSTRAINT "course_set_course_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_terms" ADD CONSTRAINT "course_terms_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "credential" ADD CONSTRAINT "credential_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "enrolment" ADD CONSTRAINT "enrolment_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "enrolment" ADD CONSTRAINT "enrolment_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "enrolment" ADD CONSTRAINT "enrolment_seat_id_seat_id_fk" FOREIGN KEY ("seat_id") REFERENCES "public"."seat"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entitlement" ADD CONSTRAINT "entitlement_set_id_membership_set_id_fk" FOREIGN KEY ("set_id") REFERENCES "public"."membership_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entitlement" ADD CONSTRAINT "entitlement_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entitlement" ADD CONSTRAINT "entitlement_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entitlement_due" ADD CONSTRAINT "entitlement_due_entitlement_id_entitlement_id_fk" FOREIGN KEY ("entitlement_id") REFERENCES "public"."entitlement"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entitlement_due" ADD CONSTRAINT "entitlement_due_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "access_grant" ADD CONSTRAINT "access_grant_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "access_grant" ADD CONSTRAINT "access_grant_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "access_grant" ADD CONSTRAINT "access_grant_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "access_grant" ADD CONSTRAINT "access_grant_course_set_id_course_set_id_fk" FOREIGN KEY ("course_set_id") REFERENCES "public"."course_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "access_grant" ADD CONSTRAINT "access_grant_maker_branch_id_groups_id_fk" FOREIGN KEY ("maker_branch_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "access_grant" ADD CONSTRAINT "access_grant_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "group_branch" ADD CONSTRAINT "group_branch_ancestor_id_groups_id_fk" FOREIGN KEY ("ancestor_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "group_branch" ADD CONSTRAINT "group_branch_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "group_tag" ADD CONSTRAINT "group_tag_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "group_tag" ADD CONSTRAINT "group_tag_tag_id_tag_id_fk" FOREIGN KEY ("tag_id") REFERENCES "public"."tag"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "group_version" ADD CONSTRAINT "group_version_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "group_version" ADD CONSTRAINT "group_version_parent_id_groups_id_fk" FOREIGN KEY ("parent_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "launch" ADD CONSTRAINT "launch_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "launch" ADD CONSTRAINT "launch_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "leadership" ADD CONSTRAINT "leadership_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "leadership" ADD CONSTRAINT "leadership_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "licence" ADD CONSTRAINT "licence_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "licence" ADD CONSTRAINT "licence_course_set_id_course_set_id_fk" FOREIGN KEY ("course_set_id") REFERENCES "public"."course_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "licence" ADD CONSTRAINT "licence_home_group_id_groups_id_fk" FOREIGN KEY ("home_group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership_set_group" ADD CONSTRAINT "membership_set_group_set_id_membership_set_id_fk" FOREIGN KEY ("set_id") REFERENCES "public"."membership_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership_set_group" ADD CONSTRAINT "membership_set_group_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "person" ADD CONSTRAINT "person_set_id_membership_set_id_fk" FOREIGN KEY ("set_id") REFERENCES "public"."membership_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "person_state" ADD CONSTRAINT "person_state_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "person_tag" ADD CONSTRAINT "person_tag_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "person_tag" ADD CONSTRAINT "person_tag_tag_id_tag_id_fk" FOREIGN KEY ("tag_id") REFERENCES "public"."tag"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "personal" ADD CONSTRAINT "personal_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "personal" ADD CONSTRAINT "personal_id_issuer_groups_id_fk" FOREIGN KEY ("id_issuer") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_source_id_source_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."source"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat" ADD CONSTRAINT "seat_licence_id_licence_id_fk" FOREIGN KEY ("licence_id") REFERENCES "public"."licence"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat" ADD CONSTRAINT "seat_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat" ADD CONSTRAINT "seat_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_limit" ADD CONSTRAINT "seat_limit_licence_id_licence_id_fk" FOREIGN KEY ("licence_id") REFERENCES "public"."licence"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_limit" ADD CONSTRAINT "seat_limit_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_line" ADD CONSTRAINT "seat_line_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_line" ADD CONSTRAINT "seat_line_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "set_in_branch" ADD CONSTRAINT "set_in_branch_ancestor_id_groups_id_fk" FOREIGN KEY ("ancestor_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "set_in_branch" ADD CONSTRAINT "set_in_branch_set_id_membership_set_id_fk" FOREIGN KEY ("set_id") REFERENCES "public"."membership_set"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tag" ADD CONSTRAINT "tag_branch_id_groups_id_fk" FOREIGN KEY ("branch_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "unit" ADD CONSTRAINT "unit_course_id_course_id_fk" FOREIGN KEY ("course_id") REFERENCES "public"."course"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "change_group_group" ON "change_group" USING btree ("group_id");--> statement-breakpoint
CREATE INDEX "change_log_actor" ON "change_log" USING btree ("actor_id");--> statement-breakpoint
CREATE INDEX "change_subject_change" ON "change_subject" USING btree ("change_id");--> statement-breakpoint
CREATE INDEX "change_subject_person" ON "change_subject" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "course_set_course_standing" ON "course_set_course" USING btree ("course_set_id","course_id") WHERE "course_set_course"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "course_terms_standing" ON "course_terms" USING btree ("course_id") WHERE "course_terms"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "enrolment_current" ON "enrolment" USING btree ("person_id","course_id") WHERE "enrolment"."is_current";--> statement-breakpoint
CREATE INDEX "enrolment_course" ON "enrolment" USING btree ("course_id");--> statement-breakpoint
CREATE INDEX "entitlement_set" ON "entitlement" USING btree ("set_id","course_id");--> statement-breakpoint
CREATE INDEX "entitlement_person" ON "entitlement" USING btree ("person_id","course_id") WHERE "entitlement"."person_id" is not null;--> statement-breakpoint
CREATE INDEX "entitlement_course" ON "entitlement" USING btree ("course_id");--> statement-breakpoint
CREATE INDEX "entitlement_due_window" ON "entitlement_due" USING btree ("entitlement_id");--> statement-breakpoint
CREATE INDEX "access_grant_group" ON "access_grant" USING btree ("group_id") WHERE "access_grant"."until_at" is null;--> statement-breakpoint
CREATE INDEX "access_grant_person" ON "access_grant" USING btree ("person_id") WHERE "access_grant"."until_at" is null and "access_grant"."person_id" is not null;--> statement-breakpoint
CREATE INDEX "access_grant_course" ON "access_grant" USING btree ("course_id") WHERE "access_grant"."until_at" is null;--> statement-breakpoint
CREATE INDEX "group_branch_group" ON "group_branch" USING btree ("group_id");--> statement-breakpoint
CREATE UNIQUE INDEX "group_tag_standing" ON "group_tag" USING btree ("group_id","tag_id") WHERE "group_tag"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "group_version_standing" ON "group_version" USING btree ("group_id") WHERE "group_version"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "group_version_sibling_name" ON "group_version" USING btree ("parent_id","name_key") WHERE "group_version"."until_at" is null and "group_version"."parent_id" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "group_version_one_root" ON "group_version" USING btree (("parent_id" is null)) WHERE "group_version"."until_at" is null and "group_version"."parent_id" is null;--> statement-breakpoint
CREATE INDEX "group_version_group" ON "group_version" USING btree ("group_id");--> statement-breakpoint
CREATE UNIQUE INDEX "groups_id_number" ON "groups" USING btree ("id_issuer","id_number") WHERE "groups"."id_number" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "leadership_standing" ON "leadership" USING btree ("person_id","group_id") WHERE "leadership"."until_at" is null;--> statement-breakpoint
CREATE INDEX "leadership_group" ON "leadership" USING btree ("group_id");--> statement-breakpoint
CREATE UNIQUE INDEX "membership_standing" ON "membership" USING btree ("person_id","group_id") WHERE "membership"."until_at" is null;--> statement-breakpoint
CREATE INDEX "membership_group" ON "membership" USING btree ("group_id") WHERE "membership"."until_at" is null;--> statement-breakpoint
CREATE INDEX "membership_person" ON "membership" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "membership_set_group_group" ON "membership_set_group" USING btree ("group_id");--> statement-breakpoint
CREATE INDEX "person_set" ON "person" USING btree ("set_id");--> statement-breakpoint
CREATE UNIQUE INDEX "person_state_standing" ON "person_state" USING btree ("person_id") WHERE "person_state"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "person_tag_standing" ON "person_tag" USING btree ("person_id","tag_id") WHERE "person_tag"."until_at" is null;--> statement-breakpoint
CREATE INDEX "person_tag_tag" ON "person_tag" USING btree ("tag_id");--> statement-breakpoint
CREATE UNIQUE INDEX "personal_standing" ON "personal" USING btree ("person_id") WHERE "personal"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "personal_email" ON "personal" USING btree ("email") WHERE "personal"."until_at" is null and "personal"."email" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "personal_sign_in_name" ON "personal" USING btree ("sign_in_name") WHERE "personal"."until_at" is null and "personal"."sign_in_name" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "personal_id_number" ON "personal" USING btree ("id_issuer","id_number") WHERE "personal"."until_at" is null and "personal"."id_number" is not null;--> statement-breakpoint
CREATE INDEX "personal_person" ON "personal" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "seat_standing" ON "seat" USING btree ("licence_id","person_id") WHERE "seat"."until_at" is null;--> statement-breakpoint
CREATE INDEX "seat_group" ON "seat" USING btree ("group_id") WHERE "seat"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "seat_limit_standing" ON "seat_limit" USING btree ("licence_id","group_id") WHERE "seat_limit"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "seat_line_standing" ON "seat_line" USING btree ("person_id","course_id") WHERE "seat_line"."until_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "seat_line_place" ON "seat_line" USING btree ("course_id","place") WHERE "seat_line"."until_at" is null;--> statement-breakpoint
CREATE INDEX "session_expire" ON "session" USING btree ("expire");--> statement-breakpoint
CREATE INDEX "session_person" ON "session" USING btree ((("sess" ->> 'personId')));--> statement-breakpoint
CREATE INDEX "set_in_branch_set" ON "set_in_branch" USING btree ("set_id");