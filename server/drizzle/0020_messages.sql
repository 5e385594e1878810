CREATE TABLE "message" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "message_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"told_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "message_answer" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "message_answer_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"message_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"to_person_id" bigint,
	"words" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"hidden_by" bigint
);
--> statement-breakpoint
CREATE TABLE "message_notice" (
	"message_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"sent_at" timestamp with time zone,
	CONSTRAINT "message_notice_message_id_person_id_pk" PRIMARY KEY("message_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "message_reader" (
	"message_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"is_chosen" boolean DEFAULT false NOT NULL,
	"seen_at" timestamp with time zone,
	"done_at" timestamp with time zone,
	"choices" integer[],
	CONSTRAINT "message_reader_message_id_person_id_pk" PRIMARY KEY("message_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "message_version" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "message_version_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"message_id" bigint NOT NULL,
	"kind" text NOT NULL,
	"title" text NOT NULL,
	"body" text NOT NULL,
	"group_id" bigint NOT NULL,
	"to_groups" bigint[],
	"with_subgroups" boolean DEFAULT true NOT NULL,
	"answers" boolean DEFAULT true NOT NULL,
	"urgent" boolean DEFAULT false NOT NULL,
	"pinned_until" date,
	"due_day" date,
	"choices" text[],
	"several" boolean DEFAULT false NOT NULL,
	"made_by" bigint NOT NULL,
	"sent_at" timestamp with time zone NOT NULL,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "message_version_kind" CHECK ("message_version"."kind" in ('message', 'task', 'question')),
	CONSTRAINT "message_version_choices" CHECK (("message_version"."kind" = 'question') = ("message_version"."choices" is not null)),
	CONSTRAINT "message_version_in_order" CHECK ("message_version"."until_at" >= "message_version"."from_at")
);
--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "letters" text DEFAULT 'at once' NOT NULL;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "digest_day" date;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "stop_key" uuid DEFAULT gen_random_uuid() NOT NULL;--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "stop_url" text;--> statement-breakpoint
ALTER TABLE "message_answer" ADD CONSTRAINT "message_answer_message_id_message_id_fk" FOREIGN KEY ("message_id") REFERENCES "public"."message"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_answer" ADD CONSTRAINT "message_answer_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_answer" ADD CONSTRAINT "message_answer_to_person_id_person_id_fk" FOREIGN KEY ("to_person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_answer" ADD CONSTRAINT "message_answer_hidden_by_person_id_fk" FOREIGN KEY ("hidden_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_notice" ADD CONSTRAINT "message_notice_message_id_message_id_fk" FOREIGN KEY ("message_id") REFERENCES "public"."message"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_notice" ADD CONSTRAINT "message_notice_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_reader" ADD CONSTRAINT "message_reader_message_id_message_id_fk" FOREIGN KEY ("message_id") REFERENCES "public"."message"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_reader" ADD CONSTRAINT "message_reader_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_version" ADD CONSTRAINT "message_version_message_id_message_id_fk" FOREIGN KEY ("message_id") REFERENCES "public"."message"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_version" ADD CONSTRAINT "message_version_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_version" ADD CONSTRAINT "message_version_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "message_answer_message" ON "message_answer" USING btree ("message_id","id");--> statement-breakpoint
CREATE INDEX "message_answer_person" ON "message_answer" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "message_answer_to_person" ON "message_answer" USING btree ("to_person_id");--> statement-breakpoint
CREATE INDEX "message_answer_hidden_by" ON "message_answer" USING btree ("hidden_by");--> statement-breakpoint
CREATE INDEX "message_notice_person" ON "message_notice" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "message_notice_waiting" ON "message_notice" USING btree ("person_id") WHERE "message_notice"."sent_at" is null;--> statement-breakpoint
CREATE INDEX "message_reader_person" ON "message_reader" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "message_version_standing" ON "message_version" USING btree ("message_id") WHERE "message_version"."until_at" is null;--> statement-breakpoint
CREATE INDEX "message_version_group" ON "message_version" USING btree ("group_id","sent_at");--> statement-breakpoint
CREATE INDEX "message_version_made_by" ON "message_version" USING btree ("made_by");--> statement-breakpoint
CREATE INDEX "message_version_to_groups" ON "message_version" USING gin ("to_groups");--> statement-breakpoint
CREATE UNIQUE INDEX "person_stop_key" ON "person" USING btree ("stop_key");--> statement-breakpoint
ALTER TABLE "person" ADD CONSTRAINT "person_letters" CHECK ("person"."letters" in ('at once', 'once a day', 'never'));