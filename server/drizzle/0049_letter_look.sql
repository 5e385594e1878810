CREATE TABLE "letter_look" (
	"row_id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "letter_look_row_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"group_id" bigint NOT NULL,
	"sender_name" text,
	"logo_id" bigint,
	"from_at" timestamp with time zone DEFAULT now() NOT NULL,
	"until_at" timestamp with time zone,
	CONSTRAINT "letter_look_says" CHECK (num_nonnulls("letter_look"."sender_name", "letter_look"."logo_id") > 0),
	CONSTRAINT "letter_look_in_order" CHECK ("letter_look"."until_at" >= "letter_look"."from_at")
);
--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "sender_name" text;--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "logo_id" bigint;--> statement-breakpoint
ALTER TABLE "received_mail" ADD COLUMN "sender" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "letter_look" ADD CONSTRAINT "letter_look_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "letter_look" ADD CONSTRAINT "letter_look_logo_id_upload_id_fk" FOREIGN KEY ("logo_id") REFERENCES "public"."upload"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "letter_look_standing" ON "letter_look" USING btree ("group_id") WHERE "letter_look"."until_at" is null;--> statement-breakpoint
ALTER TABLE "letter" ADD CONSTRAINT "letter_logo_id_upload_id_fk" FOREIGN KEY ("logo_id") REFERENCES "public"."upload"("id") ON DELETE no action ON UPDATE no action;