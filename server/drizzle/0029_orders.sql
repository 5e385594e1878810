CREATE TABLE "billing" (
	"only_one" boolean PRIMARY KEY DEFAULT true NOT NULL,
	"currency" text NOT NULL,
	"vat_rate" integer NOT NULL,
	"seller_name" text NOT NULL,
	"seller_address" text NOT NULL,
	"vat_number" text NOT NULL,
	"foot" text NOT NULL,
	CONSTRAINT "billing_only_one" CHECK ("billing"."only_one"),
	CONSTRAINT "billing_vat" CHECK ("billing"."vat_rate" between 0 and 10000)
);
--> statement-breakpoint
CREATE TABLE "invoice" (
	"number" integer PRIMARY KEY NOT NULL,
	"order_id" bigint NOT NULL,
	"credits" integer,
	"made_at" timestamp with time zone NOT NULL,
	"seats" integer NOT NULL,
	"net" bigint NOT NULL,
	"vat" bigint NOT NULL,
	"seller" jsonb NOT NULL,
	"word" text
);
--> statement-breakpoint
CREATE TABLE "licence_told" (
	"licence_id" bigint NOT NULL,
	"last_day" date NOT NULL,
	"told_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "licence_told_licence_id_last_day_pk" PRIMARY KEY("licence_id","last_day")
);
--> statement-breakpoint
CREATE TABLE "order_step" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "order_step_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"order_id" bigint NOT NULL,
	"state" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"by_id" bigint,
	"word" text
);
--> statement-breakpoint
CREATE TABLE "payment" (
	"id" uuid PRIMARY KEY NOT NULL,
	"order_id" bigint NOT NULL,
	"amount" bigint NOT NULL,
	"currency" text NOT NULL,
	"state" text NOT NULL,
	"page" text,
	"mandate" text,
	"begun_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "payment_answer" (
	"id" uuid PRIMARY KEY NOT NULL,
	"payment_id" uuid NOT NULL,
	"outcome" text NOT NULL,
	"amount" bigint NOT NULL,
	"currency" text NOT NULL,
	"received_at" timestamp with time zone NOT NULL,
	"did" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "refund" (
	"id" uuid PRIMARY KEY NOT NULL,
	"payment_id" uuid NOT NULL,
	"amount" bigint NOT NULL,
	"made_at" timestamp with time zone NOT NULL,
	"taken_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "seat_order" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "seat_order_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"licence_id" bigint NOT NULL,
	"group_id" bigint NOT NULL,
	"what" text NOT NULL,
	"seats" integer NOT NULL,
	"months" smallint NOT NULL,
	"ordered_by" bigint,
	"asking" text,
	"price" integer NOT NULL,
	"vat_rate" integer NOT NULL,
	"currency" text NOT NULL,
	"net" bigint NOT NULL,
	"vat" bigint NOT NULL,
	"state" text NOT NULL,
	"asked_at" timestamp with time zone NOT NULL,
	CONSTRAINT "seat_order_what" CHECK ("seat_order"."what" in ('seats', 'months')),
	CONSTRAINT "seat_order_state" CHECK ("seat_order"."state" in ('asked', 'approved', 'paying', 'paid', 'refused', 'given up')),
	CONSTRAINT "seat_order_amounts" CHECK ("seat_order"."seats" > 0 and "seat_order"."months" >= 0 and "seat_order"."net" >= 0 and "seat_order"."vat" >= 0)
);
--> statement-breakpoint
ALTER TABLE "licence_version" ADD COLUMN "price" integer;--> statement-breakpoint
ALTER TABLE "licence_version" ADD COLUMN "needs_approval" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "licence_version" ADD COLUMN "renew_months" smallint;--> statement-breakpoint
ALTER TABLE "licence_version" ADD COLUMN "id_number" text;--> statement-breakpoint
ALTER TABLE "invoice" ADD CONSTRAINT "invoice_order_id_seat_order_id_fk" FOREIGN KEY ("order_id") REFERENCES "public"."seat_order"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "licence_told" ADD CONSTRAINT "licence_told_licence_id_licence_id_fk" FOREIGN KEY ("licence_id") REFERENCES "public"."licence"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "order_step" ADD CONSTRAINT "order_step_order_id_seat_order_id_fk" FOREIGN KEY ("order_id") REFERENCES "public"."seat_order"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "order_step" ADD CONSTRAINT "order_step_by_id_person_id_fk" FOREIGN KEY ("by_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "payment" ADD CONSTRAINT "payment_order_id_seat_order_id_fk" FOREIGN KEY ("order_id") REFERENCES "public"."seat_order"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "payment_answer" ADD CONSTRAINT "payment_answer_payment_id_payment_id_fk" FOREIGN KEY ("payment_id") REFERENCES "public"."payment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "refund" ADD CONSTRAINT "refund_payment_id_payment_id_fk" FOREIGN KEY ("payment_id") REFERENCES "public"."payment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_order" ADD CONSTRAINT "seat_order_licence_id_licence_id_fk" FOREIGN KEY ("licence_id") REFERENCES "public"."licence"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_order" ADD CONSTRAINT "seat_order_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_order" ADD CONSTRAINT "seat_order_ordered_by_person_id_fk" FOREIGN KEY ("ordered_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "invoice_of_order" ON "invoice" USING btree ("order_id");--> statement-breakpoint
CREATE INDEX "order_step_of" ON "order_step" USING btree ("order_id");--> statement-breakpoint
CREATE INDEX "order_step_by" ON "order_step" USING btree ("by_id");--> statement-breakpoint
CREATE INDEX "payment_of_order" ON "payment" USING btree ("order_id");--> statement-breakpoint
CREATE INDEX "payment_answer_of" ON "payment_answer" USING btree ("payment_id");--> statement-breakpoint
CREATE INDEX "refund_of" ON "refund" USING btree ("payment_id");--> statement-breakpoint
CREATE INDEX "refund_waiting" ON "refund" USING btree ("made_at") WHERE "refund"."taken_at" is null;--> statement-breakpoint
CREATE INDEX "seat_order_licence" ON "seat_order" USING btree ("licence_id");--> statement-breakpoint
CREATE INDEX "seat_order_group" ON "seat_order" USING btree ("group_id","id");--> statement-breakpoint
CREATE INDEX "seat_order_ordered_by" ON "seat_order" USING btree ("ordered_by");--> statement-breakpoint
ALTER TABLE "licence_version" ADD CONSTRAINT "licence_price" CHECK ("licence_version"."price" >= 0);--> statement-breakpoint
ALTER TABLE "licence_version" ADD CONSTRAINT "licence_renew_months" CHECK ("licence_version"."renew_months" between 1 and 120);
--> statement-breakpoint
CREATE OR REPLACE VIEW licence_now AS SELECT * FROM licence_version WHERE until_at IS NULL;
--> statement-breakpoint
INSERT INTO billing (currency, vat_rate, seller_name, seller_address, vat_number, foot) VALUES ('EUR', 0, '', '', '', '');
--> statement-breakpoint
-- Leaders who hold every power hold the new one too.
UPDATE leadership SET powers = powers || '{orderSeats}'::text[] WHERE powers @> '{seeProgress,helpSignIn,decideEntry,managePeople,shapeGroups,appointLeaders,openCourses,handOutSeats,markWork,writeMessages,export}'::text[] AND NOT powers @> '{orderSeats}'::text[];
--> statement-breakpoint
UPDATE invitation SET powers = powers || '{orderSeats}'::text[] WHERE powers @> '{seeProgress,helpSignIn,decideEntry,managePeople,shapeGroups,appointLeaders,openCourses,handOutSeats,markWork,writeMessages,export}'::text[] AND NOT powers @> '{orderSeats}'::text[];
--> statement-breakpoint
UPDATE join_code_version SET powers = powers || '{orderSeats}'::text[] WHERE powers @> '{seeProgress,helpSignIn,decideEntry,managePeople,shapeGroups,appointLeaders,openCourses,handOutSeats,markWork,writeMessages,export}'::text[] AND NOT powers @> '{orderSeats}'::text[];
