CREATE TABLE "past_day" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "past_day_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"day" date NOT NULL,
	"made_for" text NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"used_at" timestamp with time zone DEFAULT now() NOT NULL,
	"is_whole" boolean DEFAULT false NOT NULL,
	CONSTRAINT "past_day_day_unique" UNIQUE("day")
);
