CREATE TABLE "held_seat" (
	"entry_id" uuid NOT NULL,
	"licence_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	CONSTRAINT "held_seat_entry_id_licence_id_pk" PRIMARY KEY("entry_id","licence_id")
);
--> statement-breakpoint
CREATE TABLE "paid_entry" (
	"id" uuid PRIMARY KEY NOT NULL,
	"code_id" bigint NOT NULL,
	"person_id" bigint NOT NULL,
	"group_ids" bigint[] NOT NULL,
	"is_new" boolean NOT NULL,
	"answers" jsonb NOT NULL,
	"id_number" text,
	"price" integer NOT NULL,
	"vat_rate" integer NOT NULL,
	"currency" text NOT NULL,
	"net" bigint NOT NULL,
	"vat" bigint NOT NULL,
	"state" text NOT NULL,
	"asked_at" timestamp with time zone NOT NULL,
	"held_until" timestamp with time zone,
	CONSTRAINT "paid_entry_state" CHECK ("paid_entry"."state" in ('paying', 'paid', 'given up'))
);
--> statement-breakpoint
ALTER TABLE "invoice" ALTER COLUMN "order_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "payment" ALTER COLUMN "order_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "invoice" ADD COLUMN "entry_id" uuid;--> statement-breakpoint
ALTER TABLE "payment" ADD COLUMN "entry_id" uuid;--> statement-breakpoint
ALTER TABLE "join_code_version" ADD COLUMN "price" integer;--> statement-breakpoint
ALTER TABLE "held_seat" ADD CONSTRAINT "held_seat_entry_id_paid_entry_id_fk" FOREIGN KEY ("entry_id") REFERENCES "public"."paid_entry"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "held_seat" ADD CONSTRAINT "held_seat_licence_id_licence_id_fk" FOREIGN KEY ("licence_id") REFERENCES "public"."licence"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "held_seat" ADD CONSTRAINT "held_seat_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "paid_entry" ADD CONSTRAINT "paid_entry_code_id_join_code_id_fk" FOREIGN KEY ("code_id") REFERENCES "public"."join_code"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "paid_entry" ADD CONSTRAINT "paid_entry_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "paid_entry_person" ON "paid_entry" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "paid_entry_code" ON "paid_entry" USING btree ("code_id");--> statement-breakpoint
CREATE UNIQUE INDEX "paid_entry_paying" ON "paid_entry" USING btree ("person_id","code_id") WHERE "paid_entry"."state" = 'paying';--> statement-breakpoint
CREATE INDEX "paid_entry_held" ON "paid_entry" USING btree ("held_until") WHERE "paid_entry"."held_until" is not null;--> statement-breakpoint
ALTER TABLE "invoice" ADD CONSTRAINT "invoice_entry_id_paid_entry_id_fk" FOREIGN KEY ("entry_id") REFERENCES "public"."paid_entry"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "payment" ADD CONSTRAINT "payment_entry_id_paid_entry_id_fk" FOREIGN KEY ("entry_id") REFERENCES "public"."paid_entry"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "invoice_of_entry" ON "invoice" USING btree ("entry_id");--> statement-breakpoint
CREATE INDEX "payment_of_entry" ON "payment" USING btree ("entry_id");--> statement-breakpoint
ALTER TABLE "invoice" ADD CONSTRAINT "invoice_of_one" CHECK (num_nonnulls("invoice"."order_id", "invoice"."entry_id") = 1);--> statement-breakpoint
ALTER TABLE "payment" ADD CONSTRAINT "payment_of_one" CHECK (num_nonnulls("payment"."order_id", "payment"."entry_id") = 1);--> statement-breakpoint
ALTER TABLE "join_code_version" ADD CONSTRAINT "join_code_version_price" CHECK ("join_code_version"."price" is null or ("join_code_version"."price" > 0 and not "join_code_version"."needs_decision" and "join_code_version"."powers" is null));