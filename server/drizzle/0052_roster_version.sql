CREATE TABLE "roster_version" (
	"only_one" boolean PRIMARY KEY DEFAULT true NOT NULL,
	"version" bigint DEFAULT 0 NOT NULL,
	CONSTRAINT "roster_version_only_one" CHECK ("roster_version"."only_one")
);
--> statement-breakpoint
INSERT INTO roster_version DEFAULT VALUES;
