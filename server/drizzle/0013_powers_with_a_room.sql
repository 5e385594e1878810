-- Powers without a room are gone; each comes back with its room.
UPDATE leadership SET powers = (SELECT coalesce(array_agg(p ORDER BY n), '{}') FROM unnest(powers) WITH ORDINALITY AS x(p, n) WHERE p NOT IN ('orderSeats', 'markWork', 'shareOutside')) WHERE powers && '{orderSeats,markWork,shareOutside}';
--> statement-breakpoint
UPDATE invitation SET powers = (SELECT coalesce(array_agg(p ORDER BY n), '{}') FROM unnest(powers) WITH ORDINALITY AS x(p, n) WHERE p NOT IN ('orderSeats', 'markWork', 'shareOutside')) WHERE powers && '{orderSeats,markWork,shareOutside}';
--> statement-breakpoint
UPDATE join_code_version SET powers = (SELECT coalesce(array_agg(p ORDER BY n), '{}') FROM unnest(powers) WITH ORDINALITY AS x(p, n) WHERE p NOT IN ('orderSeats', 'markWork', 'shareOutside')) WHERE powers && '{orderSeats,markWork,shareOutside}';
