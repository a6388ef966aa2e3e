CREATE TYPE "public"."hemisphere" AS ENUM('north', 'south');--> statement-breakpoint
CREATE TYPE "public"."meter_kind" AS ENUM('computer', 'dash', 'logger');--> statement-breakpoint
CREATE TYPE "public"."engine_position" AS ENUM('single', 'port', 'centre', 'starboard', 'kicker');--> statement-breakpoint
CREATE TYPE "public"."task_kind" AS ENUM('engine-oil', 'oil-filter', 'gear-lube', 'spark-plugs', 'impeller');--> statement-breakpoint
CREATE TYPE "public"."volume_unit" AS ENUM('mL', 'L', 'US qt', 'US fl oz', 'US gal');--> statement-breakpoint
CREATE TYPE "public"."role" AS ENUM('administrator', 'coordinator', 'technician', 'stores', 'dock', 'manager');--> statement-breakpoint
CREATE TYPE "public"."shelf_policy" AS ENUM('refuse', 'mark');--> statement-breakpoint
CREATE TYPE "public"."doubt" AS ENUM('lower', 'faster than the clock', 'off habit');--> statement-breakpoint
CREATE TYPE "public"."reading_source" AS ENUM('typed', 'job', 'import', 'meter change');--> statement-breakpoint
CREATE TYPE "public"."job_status" AS ENUM('open', 'done', 'cancelled');--> statement-breakpoint
CREATE TYPE "public"."job_task_state" AS ENUM('open', 'done', 'left');--> statement-breakpoint
CREATE TYPE "public"."movement_reason" AS ENUM('received', 'counted', 'used', 'returned', 'moved', 'written off');--> statement-breakpoint
CREATE TYPE "public"."part_kind" AS ENUM('oil', 'oil filter', 'gear lube', 'plug', 'impeller', 'pump kit', 'gasket', 'washer', 'other');--> statement-breakpoint
CREATE TYPE "public"."part_unit" AS ENUM('each', 'mL');--> statement-breakpoint
CREATE TABLE "base" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "base_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"time_zone" text NOT NULL,
	"hemisphere" "hemisphere" NOT NULL,
	"day_minutes" integer DEFAULT 480 NOT NULL,
	"workdays" smallint[] DEFAULT '{1,2,3,4,5}' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "base_name" UNIQUE("name"),
	CONSTRAINT "base_day_minutes" CHECK ("base"."day_minutes" between 0 and 1440),
	CONSTRAINT "base_workdays" CHECK ("base"."workdays" <@ array[1,2,3,4,5,6,7]::smallint[])
);
--> statement-breakpoint
CREATE TABLE "boat" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "boat_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"base_id" integer NOT NULL,
	"berth" text,
	"retired" boolean DEFAULT false NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "boat_name_given" CHECK (btrim("boat"."name") <> '')
);
--> statement-breakpoint
CREATE TABLE "engine" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "engine_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"serial" text NOT NULL,
	"model_id" integer NOT NULL,
	"boat_id" integer,
	"position" "engine_position" NOT NULL,
	"in_service_on" date,
	"bought_new" boolean DEFAULT false NOT NULL,
	"retired" boolean DEFAULT false NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "engine_serial_given" CHECK (btrim("engine"."serial") <> ''),
	CONSTRAINT "engine_new_has_day" CHECK (not "engine"."bought_new" or "engine"."in_service_on" is not null)
);
--> statement-breakpoint
CREATE TABLE "engine_model" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "engine_model_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"maker" text NOT NULL,
	"name" text NOT NULL,
	"power_hp" numeric(6, 1) NOT NULL,
	"stroke" smallint NOT NULL,
	"cylinders" smallint NOT NULL,
	"sump_value" numeric(7, 3),
	"sump_unit" "volume_unit",
	"gear_value" numeric(7, 3),
	"gear_unit" "volume_unit",
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "engine_model_stroke" CHECK ("engine_model"."stroke" in (2, 4)),
	CONSTRAINT "engine_model_cylinders" CHECK ("engine_model"."cylinders" between 1 and 12),
	CONSTRAINT "engine_model_power" CHECK ("engine_model"."power_hp" > 0),
	CONSTRAINT "engine_model_sump" CHECK (("engine_model"."sump_value" is null) = ("engine_model"."sump_unit" is null) and ("engine_model"."sump_value" is null or "engine_model"."sump_value" > 0)),
	CONSTRAINT "engine_model_gear" CHECK (("engine_model"."gear_value" is null) = ("engine_model"."gear_unit" is null) and ("engine_model"."gear_value" is null or "engine_model"."gear_value" > 0)),
	CONSTRAINT "engine_model_no_sump" CHECK ("engine_model"."stroke" = 4 or "engine_model"."sump_value" is null)
);
--> statement-breakpoint
CREATE TABLE "meter" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "meter_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"engine_id" integer NOT NULL,
	"kind" "meter_kind" NOT NULL,
	"fitted_on" date NOT NULL,
	"removed_on" date,
	"hours_offset" numeric(8, 1) DEFAULT 0 NOT NULL,
	"reason" text,
	CONSTRAINT "meter_of_engine" UNIQUE("id","engine_id"),
	CONSTRAINT "meter_days" CHECK ("meter"."removed_on" is null or "meter"."removed_on" >= "meter"."fitted_on")
);
--> statement-breakpoint
CREATE TABLE "programme_rule" (
	"model_id" integer NOT NULL,
	"task" "task_kind" NOT NULL,
	"every_hours" numeric(8, 1),
	"every_months" smallint,
	CONSTRAINT "programme_rule_model_id_task_pk" PRIMARY KEY("model_id","task"),
	CONSTRAINT "programme_rule_some_limit" CHECK ("programme_rule"."every_hours" is not null or "programme_rule"."every_months" is not null),
	CONSTRAINT "programme_rule_positive" CHECK (coalesce("programme_rule"."every_hours", 1) > 0 and coalesce("programme_rule"."every_months", 1) > 0)
);
--> statement-breakpoint
CREATE TABLE "app_secret" (
	"name" text PRIMARY KEY NOT NULL,
	"value" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "person" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "person_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"username" text NOT NULL,
	"role" "role" NOT NULL,
	"base_id" integer,
	"password_hash" text NOT NULL,
	"active" boolean DEFAULT true NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "person_username_lower" CHECK ("person"."username" = lower("person"."username") and "person"."username" <> ''),
	CONSTRAINT "person_name_given" CHECK (btrim("person"."name") <> '')
);
--> statement-breakpoint
CREATE TABLE "session" (
	"sid" varchar PRIMARY KEY NOT NULL,
	"sess" json NOT NULL,
	"expire" timestamp (6) NOT NULL
);
--> statement-breakpoint
CREATE TABLE "setting" (
	"id" integer PRIMARY KEY DEFAULT 1 NOT NULL,
	"company" text NOT NULL,
	"currency" text NOT NULL,
	"shelf_policy" "shelf_policy" DEFAULT 'refuse' NOT NULL,
	"demo" boolean DEFAULT false NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "setting_one_row" CHECK ("setting"."id" = 1),
	CONSTRAINT "setting_currency" CHECK ("setting"."currency" ~ '^[A-Z]{3}$')
);
--> statement-breakpoint
CREATE TABLE "engine_touch_cache" (
	"engine_id" integer PRIMARY KEY NOT NULL,
	"xid" "xid8" NOT NULL
);
--> statement-breakpoint
CREATE TABLE "reading" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "reading_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"engine_id" integer NOT NULL,
	"meter_id" integer NOT NULL,
	"day" date NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"count" numeric(8, 1) NOT NULL,
	"source" "reading_source" NOT NULL,
	"doubt" "doubt",
	"reason" text,
	"person_id" integer,
	"withdrawn_at" timestamp with time zone,
	"withdrawn_by" integer,
	"withdrawn_reason" text,
	CONSTRAINT "reading_count" CHECK ("reading"."count" >= 0),
	CONSTRAINT "reading_doubt_has_reason" CHECK ("reading"."doubt" is null or btrim("reading"."reason") <> ''),
	CONSTRAINT "reading_withdrawn" CHECK (("reading"."withdrawn_at" is null) = ("reading"."withdrawn_reason" is null))
);
--> statement-breakpoint
CREATE TABLE "job" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "job_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"boat_id" integer NOT NULL,
	"technician_id" integer NOT NULL,
	"day" date NOT NULL,
	"status" "job_status" DEFAULT 'open' NOT NULL,
	"remark" text,
	"finished_at" timestamp with time zone,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "job_finished" CHECK (("job"."status" = 'done') = ("job"."finished_at" is not null))
);
--> statement-breakpoint
CREATE TABLE "job_task" (
	"job_id" integer NOT NULL,
	"engine_id" integer NOT NULL,
	"task" "task_kind" NOT NULL,
	"state" "job_task_state" DEFAULT 'open' NOT NULL,
	"on_open_job" boolean DEFAULT true NOT NULL,
	CONSTRAINT "job_task_job_id_engine_id_task_pk" PRIMARY KEY("job_id","engine_id","task")
);
--> statement-breakpoint
CREATE TABLE "service_entry" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "service_entry_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"engine_id" integer NOT NULL,
	"task" "task_kind" NOT NULL,
	"done_on" date NOT NULL,
	"hours" numeric(8, 1),
	"person_id" integer,
	"done_by" text,
	"job_id" integer,
	"volume_value" numeric(7, 3),
	"volume_unit" "volume_unit",
	"remark" text,
	"entered_at" timestamp with time zone DEFAULT now() NOT NULL,
	"cancels" integer,
	"reason" text,
	CONSTRAINT "service_entry_hours" CHECK ("service_entry"."hours" >= 0),
	CONSTRAINT "service_entry_cancel_reason" CHECK ("service_entry"."cancels" is null or btrim("service_entry"."reason") <> ''),
	CONSTRAINT "service_entry_volume" CHECK (("service_entry"."volume_value" is null) = ("service_entry"."volume_unit" is null))
);
--> statement-breakpoint
CREATE TABLE "fitment" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "fitment_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"part_id" integer NOT NULL,
	"model_id" integer NOT NULL,
	"task" "task_kind" NOT NULL,
	"quantity" numeric(12, 2),
	"serial_from" text,
	"serial_to" text,
	CONSTRAINT "fitment_quantity" CHECK ("fitment"."quantity" > 0)
);
--> statement-breakpoint
CREATE TABLE "part" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "part_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"name" text NOT NULL,
	"kind" "part_kind" NOT NULL,
	"unit" "part_unit" NOT NULL,
	"price_minor" integer,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "part_price" CHECK ("part"."price_minor" >= 0),
	CONSTRAINT "part_names" CHECK (btrim("part"."number") <> '' and btrim("part"."name") <> '')
);
--> statement-breakpoint
CREATE TABLE "stock_movement" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "stock_movement_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"part_id" integer NOT NULL,
	"base_id" integer NOT NULL,
	"quantity" numeric(12, 2) NOT NULL,
	"reason" "movement_reason" NOT NULL,
	"job_id" integer,
	"person_id" integer,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"note" text,
	"below_zero" boolean DEFAULT false NOT NULL,
	"cancels" integer,
	CONSTRAINT "stock_movement_some" CHECK ("stock_movement"."quantity" <> 0 or "stock_movement"."reason" = 'counted'),
	CONSTRAINT "stock_movement_used_out" CHECK ("stock_movement"."reason" <> 'used' or "stock_movement"."quantity" < 0)
);
--> statement-breakpoint
CREATE TABLE "audit" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "audit_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"person_id" integer,
	"request_id" text,
	"act" text NOT NULL,
	"subject" text NOT NULL,
	"subject_id" integer,
	"title" text,
	"before" jsonb,
	"after" jsonb
);
--> statement-breakpoint
ALTER TABLE "boat" ADD CONSTRAINT "boat_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "engine" ADD CONSTRAINT "engine_model_id_engine_model_id_fk" FOREIGN KEY ("model_id") REFERENCES "public"."engine_model"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "engine" ADD CONSTRAINT "engine_boat_id_boat_id_fk" FOREIGN KEY ("boat_id") REFERENCES "public"."boat"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "meter" ADD CONSTRAINT "meter_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "programme_rule" ADD CONSTRAINT "programme_rule_model_id_engine_model_id_fk" FOREIGN KEY ("model_id") REFERENCES "public"."engine_model"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "person" ADD CONSTRAINT "person_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reading" ADD CONSTRAINT "reading_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reading" ADD CONSTRAINT "reading_withdrawn_by_person_id_fk" FOREIGN KEY ("withdrawn_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reading" ADD CONSTRAINT "reading_meter_id_engine_id_meter_id_engine_id_fk" FOREIGN KEY ("meter_id","engine_id") REFERENCES "public"."meter"("id","engine_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job" ADD CONSTRAINT "job_boat_id_boat_id_fk" FOREIGN KEY ("boat_id") REFERENCES "public"."boat"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job" ADD CONSTRAINT "job_technician_id_person_id_fk" FOREIGN KEY ("technician_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_task" ADD CONSTRAINT "job_task_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_task" ADD CONSTRAINT "job_task_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "service_entry" ADD CONSTRAINT "service_entry_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "service_entry" ADD CONSTRAINT "service_entry_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "service_entry" ADD CONSTRAINT "service_entry_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "service_entry" ADD CONSTRAINT "service_entry_cancels_service_entry_id_fk" FOREIGN KEY ("cancels") REFERENCES "public"."service_entry"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fitment" ADD CONSTRAINT "fitment_part_id_part_id_fk" FOREIGN KEY ("part_id") REFERENCES "public"."part"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fitment" ADD CONSTRAINT "fitment_model_id_engine_model_id_fk" FOREIGN KEY ("model_id") REFERENCES "public"."engine_model"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stock_movement" ADD CONSTRAINT "stock_movement_part_id_part_id_fk" FOREIGN KEY ("part_id") REFERENCES "public"."part"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stock_movement" ADD CONSTRAINT "stock_movement_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stock_movement" ADD CONSTRAINT "stock_movement_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stock_movement" ADD CONSTRAINT "stock_movement_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stock_movement" ADD CONSTRAINT "stock_movement_cancels_stock_movement_id_fk" FOREIGN KEY ("cancels") REFERENCES "public"."stock_movement"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "audit" ADD CONSTRAINT "audit_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "boat_name" ON "boat" USING btree (lower("name")) WHERE not "boat"."retired";--> statement-breakpoint
CREATE INDEX "boat_base" ON "boat" USING btree ("base_id");--> statement-breakpoint
CREATE UNIQUE INDEX "engine_serial" ON "engine" USING btree ("model_id",lower("serial"));--> statement-breakpoint
CREATE UNIQUE INDEX "engine_position_once" ON "engine" USING btree ("boat_id","position") WHERE not "engine"."retired";--> statement-breakpoint
CREATE INDEX "engine_boat" ON "engine" USING btree ("boat_id");--> statement-breakpoint
CREATE UNIQUE INDEX "engine_model_name" ON "engine_model" USING btree (lower("maker"),lower("name"));--> statement-breakpoint
CREATE UNIQUE INDEX "meter_one_in_use" ON "meter" USING btree ("engine_id") WHERE "meter"."removed_on" is null;--> statement-breakpoint
CREATE INDEX "meter_engine" ON "meter" USING btree ("engine_id");--> statement-breakpoint
CREATE UNIQUE INDEX "person_username" ON "person" USING btree ("username");--> statement-breakpoint
CREATE INDEX "session_expire" ON "session" USING btree ("expire");--> statement-breakpoint
CREATE INDEX "engine_touch_xid" ON "engine_touch_cache" USING btree ("xid");--> statement-breakpoint
CREATE INDEX "reading_of_engine" ON "reading" USING btree ("engine_id","day" desc,"id" desc) WHERE "reading"."withdrawn_at" is null;--> statement-breakpoint
CREATE INDEX "reading_of_meter" ON "reading" USING btree ("meter_id");--> statement-breakpoint
CREATE INDEX "job_day" ON "job" USING btree ("day");--> statement-breakpoint
CREATE INDEX "job_technician_day" ON "job" USING btree ("technician_id","day");--> statement-breakpoint
CREATE INDEX "job_boat" ON "job" USING btree ("boat_id");--> statement-breakpoint
CREATE UNIQUE INDEX "job_task_once" ON "job_task" USING btree ("engine_id","task") WHERE "job_task"."on_open_job";--> statement-breakpoint
CREATE INDEX "service_entry_of_engine" ON "service_entry" USING btree ("engine_id","task","done_on" desc,"id" desc);--> statement-breakpoint
CREATE UNIQUE INDEX "service_entry_cancelled_once" ON "service_entry" USING btree ("cancels");--> statement-breakpoint
CREATE INDEX "service_entry_job" ON "service_entry" USING btree ("job_id");--> statement-breakpoint
CREATE INDEX "fitment_part" ON "fitment" USING btree ("part_id");--> statement-breakpoint
CREATE INDEX "fitment_model" ON "fitment" USING btree ("model_id","task");--> statement-breakpoint
CREATE UNIQUE INDEX "fitment_once" ON "fitment" USING btree ("part_id","model_id","task",coalesce("serial_from", ''),coalesce("serial_to", ''));--> statement-breakpoint
CREATE UNIQUE INDEX "part_number" ON "part" USING btree (lower("number"));--> statement-breakpoint
CREATE INDEX "stock_movement_shelf" ON "stock_movement" USING btree ("part_id","base_id");--> statement-breakpoint
CREATE INDEX "stock_movement_job" ON "stock_movement" USING btree ("job_id");--> statement-breakpoint
CREATE UNIQUE INDEX "stock_movement_cancelled_once" ON "stock_movement" USING btree ("cancels");--> statement-breakpoint
CREATE INDEX "audit_subject" ON "audit" USING btree ("subject","subject_id");--> statement-breakpoint
CREATE INDEX "audit_person" ON "audit" USING btree ("person_id");