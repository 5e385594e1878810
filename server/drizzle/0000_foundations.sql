CREATE EXTENSION IF NOT EXISTS citext;
--> statement-breakpoint
CREATE EXTENSION IF NOT EXISTS pg_trgm;
--> statement-breakpoint
-- The one order of names: keyset pages and the eye agree.
CREATE COLLATION people_order (provider = icu, locale = 'und-u-ka-shifted');
