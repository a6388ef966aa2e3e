-- expands: seasons of bases, where boats stand, decisions on their lists, and looks at batteries.
CREATE TYPE "public"."battery_kind" AS ENUM('flooded', 'sealed');--> statement-breakpoint
CREATE TYPE "public"."season_visit" AS ENUM('before', 'after', 'spring');--> statement-breakpoint
CREATE TYPE "public"."storage_kind" AS ENUM('hall', 'yard', 'afloat');--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'second-dose';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'spring-run';--> statement-breakpoint
CREATE TABLE "base_season" (
	"base_id" integer PRIMARY KEY NOT NULL,
	"closes" text,
	"opens" text,
	"lows" smallint[],
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "base_season_both" CHECK (("base_season"."closes" is null) = ("base_season"."opens" is null) and "base_season"."closes" is distinct from "base_season"."opens" or "base_season"."closes" is null),
	CONSTRAINT "base_season_lows" CHECK ("base_season"."lows" is null or cardinality("base_season"."lows") = 12)
);
--> statement-breakpoint
CREATE TABLE "battery_look" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "battery_look_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"boat_id" integer NOT NULL,
	"day" date NOT NULL,
	"volts" numeric(4, 2),
	"celsius" smallint,
	"rested_hours" smallint,
	"kind" "battery_kind" NOT NULL,
	"charged" boolean NOT NULL,
	"remark" text,
	"person_id" integer,
	"at" timestamp with time zone NOT NULL,
	CONSTRAINT "battery_look_volts" CHECK ("battery_look"."volts" between 0 and 20)
);
--> statement-breakpoint
CREATE TABLE "boat_season" (
	"boat_id" integer PRIMARY KEY NOT NULL,
	"stays_out" boolean DEFAULT false NOT NULL,
	"place_id" integer,
	"tank_litres" numeric(7, 1),
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "boat_season_tank" CHECK ("boat_season"."tank_litres" > 0)
);
--> statement-breakpoint
CREATE TABLE "season_change" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "season_change_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"engine_id" integer NOT NULL,
	"season" text NOT NULL,
	"task" "task_kind" NOT NULL,
	"visit" "season_visit",
	"reason" text NOT NULL,
	"person_id" integer,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "storage_place" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "storage_place_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"base_id" integer NOT NULL,
	"name" text NOT NULL,
	"kind" "storage_kind" NOT NULL,
	"room" smallint NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "storage_place_name" UNIQUE("base_id","name"),
	CONSTRAINT "storage_place_room" CHECK ("storage_place"."room" between 1 and 9999)
);
--> statement-breakpoint
ALTER TABLE "base_season" ADD CONSTRAINT "base_season_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "battery_look" ADD CONSTRAINT "battery_look_boat_id_boat_id_fk" FOREIGN KEY ("boat_id") REFERENCES "public"."boat"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "battery_look" ADD CONSTRAINT "battery_look_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "boat_season" ADD CONSTRAINT "boat_season_boat_id_boat_id_fk" FOREIGN KEY ("boat_id") REFERENCES "public"."boat"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "boat_season" ADD CONSTRAINT "boat_season_place_id_storage_place_id_fk" FOREIGN KEY ("place_id") REFERENCES "public"."storage_place"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "season_change" ADD CONSTRAINT "season_change_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "season_change" ADD CONSTRAINT "season_change_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "storage_place" ADD CONSTRAINT "storage_place_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "battery_look_boat" ON "battery_look" USING btree ("boat_id","day");--> statement-breakpoint
CREATE INDEX "boat_season_place" ON "boat_season" USING btree ("place_id");--> statement-breakpoint
CREATE UNIQUE INDEX "season_change_once" ON "season_change" USING btree ("engine_id","season","task");--> statement-breakpoint
CREATE TRIGGER base_season_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON base_season FOR EACH STATEMENT EXECUTE FUNCTION touch_book();--> statement-breakpoint
CREATE TRIGGER base_season_tells AFTER INSERT OR UPDATE OR DELETE ON base_season FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('season');--> statement-breakpoint
CREATE TRIGGER storage_place_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON storage_place FOR EACH STATEMENT EXECUTE FUNCTION touch_book();--> statement-breakpoint
CREATE TRIGGER storage_place_tells AFTER INSERT OR UPDATE OR DELETE ON storage_place FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('season');--> statement-breakpoint
CREATE TRIGGER boat_season_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON boat_season FOR EACH STATEMENT EXECUTE FUNCTION touch_book();--> statement-breakpoint
CREATE TRIGGER boat_season_tells AFTER INSERT OR UPDATE OR DELETE ON boat_season FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('season');--> statement-breakpoint
CREATE TRIGGER season_change_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON season_change FOR EACH STATEMENT EXECUTE FUNCTION touch_book();--> statement-breakpoint
CREATE TRIGGER season_change_tells AFTER INSERT OR UPDATE OR DELETE ON season_change FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('season');--> statement-breakpoint
CREATE TRIGGER battery_look_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON battery_look FOR EACH STATEMENT EXECUTE FUNCTION touch_book();--> statement-breakpoint
CREATE TRIGGER battery_look_tells AFTER INSERT OR UPDATE OR DELETE ON battery_look FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('season');
