CREATE TYPE "public"."person_exception_kind" AS ENUM('away', 'base', 'hours');--> statement-breakpoint
CREATE TABLE "accepted_plan" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "accepted_plan_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"first_day" date NOT NULL,
	"days" smallint NOT NULL,
	"visits" jsonb NOT NULL,
	"cost" jsonb NOT NULL,
	"person_id" integer,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "closed_day" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "closed_day_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"base_id" integer NOT NULL,
	"day" date NOT NULL,
	"name" text NOT NULL,
	CONSTRAINT "closed_day_once" UNIQUE("base_id","day"),
	CONSTRAINT "closed_day_name" CHECK (btrim("closed_day"."name") <> '')
);
--> statement-breakpoint
CREATE TABLE "lift_out" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "lift_out_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"base_id" integer NOT NULL,
	"first_day" date NOT NULL,
	"last_day" date NOT NULL,
	"slots" smallint DEFAULT 0 NOT NULL,
	"reason" text NOT NULL,
	CONSTRAINT "lift_out_days" CHECK ("lift_out"."last_day" >= "lift_out"."first_day"),
	CONSTRAINT "lift_out_slots" CHECK ("lift_out"."slots" >= 0)
);
--> statement-breakpoint
CREATE TABLE "notice" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "notice_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"person_id" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"text" text NOT NULL,
	"job_id" integer,
	"read_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "part_arrival" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "part_arrival_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"part_id" integer NOT NULL,
	"base_id" integer NOT NULL,
	"day" date NOT NULL,
	"quantity" numeric(12, 2) NOT NULL,
	"note" text,
	"arrived_at" timestamp with time zone,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "part_arrival_quantity" CHECK ("part_arrival"."quantity" > 0)
);
--> statement-breakpoint
CREATE TABLE "person_exception" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "person_exception_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"person_id" integer NOT NULL,
	"first_day" date NOT NULL,
	"last_day" date NOT NULL,
	"kind" "person_exception_kind" NOT NULL,
	"base_id" integer,
	"from_minute" smallint,
	"to_minute" smallint,
	"reason" text,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "person_exception_days" CHECK ("person_exception"."last_day" >= "person_exception"."first_day"),
	CONSTRAINT "person_exception_kind" CHECK (("person_exception"."kind" = 'base') = ("person_exception"."base_id" is not null) and ("person_exception"."kind" = 'hours') = ("person_exception"."from_minute" is not null and "person_exception"."to_minute" is not null)),
	CONSTRAINT "person_exception_minutes" CHECK ("person_exception"."from_minute" between 0 and 1439 and "person_exception"."to_minute" > "person_exception"."from_minute" and "person_exception"."to_minute" <= 1440)
);
--> statement-breakpoint
CREATE TABLE "person_shift" (
	"person_id" integer NOT NULL,
	"weekday" smallint NOT NULL,
	"from_minute" smallint NOT NULL,
	"to_minute" smallint NOT NULL,
	"base_id" integer,
	CONSTRAINT "person_shift_person_id_weekday_pk" PRIMARY KEY("person_id","weekday"),
	CONSTRAINT "person_shift_weekday" CHECK ("person_shift"."weekday" between 1 and 7),
	CONSTRAINT "person_shift_minutes" CHECK ("person_shift"."from_minute" between 0 and 1439 and "person_shift"."to_minute" > "person_shift"."from_minute" and "person_shift"."to_minute" <= 1440)
);
--> statement-breakpoint
ALTER TABLE "base" ADD COLUMN "opens_at" smallint DEFAULT 420 NOT NULL;--> statement-breakpoint
ALTER TABLE "base" ADD COLUMN "closes_at" smallint DEFAULT 1140 NOT NULL;--> statement-breakpoint
ALTER TABLE "base" ADD COLUMN "lift_slots" smallint DEFAULT 2 NOT NULL;--> statement-breakpoint
ALTER TABLE "boat" ADD COLUMN "hire_day_minor" integer;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "skills" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "pace" numeric(4, 2) DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "rate_minor" integer;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "overtime_minutes" smallint DEFAULT 60 NOT NULL;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "overtime_percent" smallint DEFAULT 150 NOT NULL;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "calendar_key_hash" text;--> statement-breakpoint
ALTER TABLE "setting" ADD COLUMN "late_weight_percent" smallint DEFAULT 100 NOT NULL;--> statement-breakpoint
ALTER TABLE "setting" ADD COLUMN "move_cost_minor" integer DEFAULT 400 NOT NULL;--> statement-breakpoint
ALTER TABLE "setting" ADD COLUMN "rate_minor" integer DEFAULT 4500 NOT NULL;--> statement-breakpoint
ALTER TABLE "setting" ADD COLUMN "hire_day_minor" integer DEFAULT 12000 NOT NULL;--> statement-breakpoint
ALTER TABLE "job" ADD COLUMN "start_minute" smallint;--> statement-breakpoint
ALTER TABLE "job" ADD COLUMN "pinned" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "accepted_plan" ADD CONSTRAINT "accepted_plan_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "closed_day" ADD CONSTRAINT "closed_day_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "lift_out" ADD CONSTRAINT "lift_out_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notice" ADD CONSTRAINT "notice_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notice" ADD CONSTRAINT "notice_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part_arrival" ADD CONSTRAINT "part_arrival_part_id_part_id_fk" FOREIGN KEY ("part_id") REFERENCES "public"."part"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part_arrival" ADD CONSTRAINT "part_arrival_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "person_exception" ADD CONSTRAINT "person_exception_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "person_exception" ADD CONSTRAINT "person_exception_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "person_shift" ADD CONSTRAINT "person_shift_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "person_shift" ADD CONSTRAINT "person_shift_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "lift_out_base" ON "lift_out" USING btree ("base_id");--> statement-breakpoint
CREATE INDEX "notice_unread" ON "notice" USING btree ("person_id","id") WHERE "notice"."read_at" is null;--> statement-breakpoint
CREATE INDEX "part_arrival_open" ON "part_arrival" USING btree ("day") WHERE "part_arrival"."arrived_at" is null;--> statement-breakpoint
CREATE INDEX "person_exception_person" ON "person_exception" USING btree ("person_id","last_day");--> statement-breakpoint
CREATE UNIQUE INDEX "person_calendar_key" ON "person" USING btree ("calendar_key_hash");--> statement-breakpoint
ALTER TABLE "base" ADD CONSTRAINT "base_opens" CHECK ("base"."opens_at" between 0 and 1439 and "base"."closes_at" > "base"."opens_at" and "base"."closes_at" <= 1440 and "base"."lift_slots" between 0 and 99);--> statement-breakpoint
ALTER TABLE "boat" ADD CONSTRAINT "boat_hire_day" CHECK ("boat"."hire_day_minor" >= 0);--> statement-breakpoint
ALTER TABLE "person" ADD CONSTRAINT "person_pace" CHECK ("person"."pace" between 0.3 and 5);--> statement-breakpoint
ALTER TABLE "person" ADD CONSTRAINT "person_money" CHECK (coalesce("person"."rate_minor", 0) >= 0 and "person"."overtime_minutes" between 0 and 600 and "person"."overtime_percent" between 100 and 400);--> statement-breakpoint
ALTER TABLE "setting" ADD CONSTRAINT "setting_planning" CHECK ("setting"."late_weight_percent" between 0 and 1000 and "setting"."move_cost_minor" >= 0 and "setting"."rate_minor" >= 0 and "setting"."hire_day_minor" >= 0);--> statement-breakpoint
ALTER TABLE "job" ADD CONSTRAINT "job_start" CHECK ("job"."start_minute" between 0 and 1439);--> statement-breakpoint
-- Whoever worked on pumps before may go on: skills are taken away by hand, not by an update.
UPDATE "person" SET "skills" = '{lower units}' WHERE "role" in ('technician', 'coordinator', 'administrator');
--> statement-breakpoint
CREATE TRIGGER accepted_plan_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON accepted_plan FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
