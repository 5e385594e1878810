CREATE TABLE "address_link" (
	"hash" text PRIMARY KEY NOT NULL,
	"person_id" bigint NOT NULL,
	"address" "citext" NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ends_at" timestamp with time zone NOT NULL,
	"used_at" timestamp with time zone
);
--> statement-breakpoint
DROP INDEX "personal_email";--> statement-breakpoint
ALTER TABLE "personal" ADD COLUMN "address_failed" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "one_time_link" ADD COLUMN "address" "citext";--> statement-breakpoint
ALTER TABLE "one_time_link" ADD COLUMN "word_hash" text;--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "kind" text DEFAULT 'invitation' NOT NULL;--> statement-breakpoint
ALTER TABLE "address_link" ADD CONSTRAINT "address_link_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "address_link_person" ON "address_link" USING btree ("person_id");--> statement-breakpoint
-- A sign-in name that holds an @ becomes the address, with a plain name beside it.
UPDATE personal SET email = coalesce(email, sign_in_name), confirmed_email = CASE WHEN email IS NULL THEN sign_in_name ELSE confirmed_email END,
  sign_in_name = coalesce(nullif(regexp_replace(split_part(lower(sign_in_name::text), '@', 1), '[^a-z0-9]', '', 'g'), ''), 'learner') || person_id
WHERE sign_in_name LIKE '%@%';--> statement-breakpoint
-- An address is confirmed where its owner has shown so, or where an administrator gave it last.
UPDATE personal p SET confirmed_email = CASE WHEN p.until_at IS NULL AND (p.confirmed_email = p.email OR (
    SELECT CASE WHEN made.actor_id IS NOT NULL THEN made.by_administrator WHEN born.id IS NOT NULL THEN coalesce(born.by_administrator, false) ELSE true END
    FROM (SELECT min(q.row_id) AS row_id FROM personal q WHERE q.person_id = p.person_id AND q.email = p.email) first
    LEFT JOIN LATERAL (SELECT c.actor_id, a.role = 'administrator' AS by_administrator FROM change_subject s JOIN change_log c ON c.id = s.change_id LEFT JOIN person a ON a.id = c.actor_id
      WHERE s.kind = 'personal' AND s.after_row = first.row_id ORDER BY c.id DESC LIMIT 1) made ON true
    LEFT JOIN LATERAL (SELECT c.id, a.role = 'administrator' AS by_administrator FROM change_subject s JOIN change_log c ON c.id = s.change_id LEFT JOIN person a ON a.id = c.actor_id
      WHERE s.kind = 'person' AND s.after_row = p.person_id ORDER BY c.id LIMIT 1) born ON true
  )) THEN p.email END
WHERE p.email IS NOT NULL OR p.confirmed_email IS NOT NULL;--> statement-breakpoint
CREATE OR REPLACE VIEW personal_now AS SELECT * FROM personal WHERE until_at IS NULL;--> statement-breakpoint
-- Letters to an earlier address sign nobody in any more.
DELETE FROM one_time_link WHERE by_letter;--> statement-breakpoint
CREATE UNIQUE INDEX "personal_confirmed_email" ON "personal" USING btree ("confirmed_email") WHERE "personal"."until_at" is null and "personal"."confirmed_email" is not null;--> statement-breakpoint
CREATE INDEX "one_time_link_word" ON "one_time_link" USING btree ("word_hash");--> statement-breakpoint
CREATE INDEX "letter_address" ON "letter" USING btree ("address","made_at");--> statement-breakpoint
CREATE INDEX "personal_email" ON "personal" USING btree ("email") WHERE "personal"."until_at" is null and "personal"."email" is not null;--> statement-breakpoint
ALTER TABLE "personal" ADD CONSTRAINT "personal_confirmed_is_email" CHECK ("personal"."confirmed_email" = "personal"."email");--> statement-breakpoint
ALTER TABLE "personal" ADD CONSTRAINT "personal_sign_in_name_no_address" CHECK ("personal"."sign_in_name" not like '%@%');