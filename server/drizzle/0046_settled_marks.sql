CREATE TABLE "standing_settled" (
	"set_id" bigint NOT NULL,
	"in_transaction" bigint DEFAULT pg_current_xact_id()::text::bigint NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "standing_mark" ADD COLUMN "in_transaction" bigint DEFAULT pg_current_xact_id()::text::bigint NOT NULL;--> statement-breakpoint
CREATE INDEX "standing_settled_transaction" ON "standing_settled" USING btree ("in_transaction");--> statement-breakpoint
CREATE INDEX "standing_settled_at" ON "standing_settled" USING btree ("at");