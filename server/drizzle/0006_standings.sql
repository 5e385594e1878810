CREATE TABLE "standing" (
	"set_id" bigint NOT NULL,
	"course_id" bigint NOT NULL,
	"day" date NOT NULL,
	"all" integer NOT NULL,
	"done" integer NOT NULL,
	"under_way" integer NOT NULL,
	"exempt" integer NOT NULL,
	"overdue" integer NOT NULL,
	"score_sum" double precision NOT NULL,
	"scored" integer NOT NULL,
	"whole" boolean NOT NULL,
	CONSTRAINT "standing_set_id_course_id_pk" PRIMARY KEY("set_id","course_id")
);
--> statement-breakpoint
CREATE TABLE "standing_mark" (
	"set_id" bigint NOT NULL
);
--> statement-breakpoint
CREATE INDEX "standing_in_all" ON "standing" USING btree ("set_id") WHERE "standing"."course_id" = 0;