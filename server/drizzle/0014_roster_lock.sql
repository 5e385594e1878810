CREATE TABLE "outside_request" (
	"request_id" uuid PRIMARY KEY NOT NULL,
	"sent_hash" text NOT NULL,
	"outcome" jsonb NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "structure_version" (
	"only_one" boolean PRIMARY KEY DEFAULT true NOT NULL,
	"version" bigint NOT NULL,
	CONSTRAINT "structure_version_only_one" CHECK ("structure_version"."only_one")
);
--> statement-breakpoint
ALTER TABLE "letter" ADD COLUMN "leased_until" timestamp with time zone;--> statement-breakpoint
CREATE INDEX "outside_request_made" ON "outside_request" USING btree ("made_at");
--> statement-breakpoint
-- A row that has ended ended after it began.
DO $$
DECLARE t text;
BEGIN
  FOR t IN
    SELECT c.table_name FROM information_schema.columns c JOIN information_schema.tables b USING (table_schema, table_name)
    WHERE c.table_schema = 'public' AND b.table_type = 'BASE TABLE' AND c.column_name IN ('from_at', 'until_at')
    GROUP BY c.table_name HAVING count(*) = 2
  LOOP
    EXECUTE format('UPDATE %I SET until_at = from_at WHERE until_at < from_at', t);
    EXECUTE format('ALTER TABLE %I ADD CONSTRAINT %I CHECK (until_at >= from_at)', t, t || '_in_order');
  END LOOP;
END $$;
--> statement-breakpoint
-- Places in line are taken after the licence is locked, so their order is the order of becoming entitled.
CREATE SEQUENCE seat_line_order;
--> statement-breakpoint
SELECT setval('seat_line_order', (SELECT coalesce(max(place), 0) + 1 FROM seat_line), false);
--> statement-breakpoint
-- Raised by whatever alters the tree or what is said about courses. Each process caches both under it. Numbers come from a
-- sequence, so that one that was rolled back never comes again.
CREATE SEQUENCE structure_version_number;
--> statement-breakpoint
INSERT INTO structure_version (version) VALUES (nextval('structure_version_number'));
--> statement-breakpoint
CREATE FUNCTION raise_structure_version() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE structure_version SET version = nextval('structure_version_number');
  RETURN NULL;
END $$;
--> statement-breakpoint
DO $$
DECLARE t text;
BEGIN
  FOREACH t IN ARRAY ARRAY['groups', 'group_version', 'access_grant', 'course', 'course_terms', 'course_set', 'course_set_course', 'unit', 'licence', 'licence_version', 'organisation'] LOOP
    EXECUTE format('CREATE TRIGGER raise_structure_version AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON %I FOR EACH STATEMENT EXECUTE FUNCTION raise_structure_version()', t);
  END LOOP;
END $$;
