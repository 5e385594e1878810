CREATE TABLE "kept_view" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "kept_view_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"owner_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"name" text NOT NULL,
	"shown" jsonb NOT NULL,
	"for_leaders" boolean NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "shared_view" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "shared_view_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"hash" text NOT NULL,
	"made_by" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"title" text NOT NULL,
	"shown" jsonb NOT NULL,
	"says" jsonb NOT NULL,
	"with_names" boolean NOT NULL,
	"frozen" jsonb,
	"frozen_day" date,
	"last_day" date NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"withdrawn_at" timestamp with time zone,
	"opened" integer DEFAULT 0 NOT NULL,
	"opened_at" timestamp with time zone,
	CONSTRAINT "shared_view_hash_unique" UNIQUE("hash"),
	CONSTRAINT "shared_view_frozen" CHECK ("shared_view"."frozen" is null or not "shared_view"."with_names")
);
--> statement-breakpoint
CREATE TABLE "start_view" (
	"person_id" bigint PRIMARY KEY NOT NULL,
	"view_id" bigint NOT NULL
);
--> statement-breakpoint
ALTER TABLE "kept_view" ADD CONSTRAINT "kept_view_owner_id_person_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_view" ADD CONSTRAINT "kept_view_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "shared_view" ADD CONSTRAINT "shared_view_made_by_person_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "shared_view" ADD CONSTRAINT "shared_view_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "start_view" ADD CONSTRAINT "start_view_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "start_view" ADD CONSTRAINT "start_view_view_id_kept_view_id_fk" FOREIGN KEY ("view_id") REFERENCES "public"."kept_view"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "kept_view_name" ON "kept_view" USING btree ("owner_id","name");--> statement-breakpoint
CREATE INDEX "kept_view_group" ON "kept_view" USING btree ("group_id");--> statement-breakpoint
CREATE INDEX "shared_view_made_by" ON "shared_view" USING btree ("made_by");--> statement-breakpoint
CREATE INDEX "shared_view_group" ON "shared_view" USING btree ("group_id");--> statement-breakpoint
CREATE INDEX "start_view_of" ON "start_view" USING btree ("view_id");