CREATE TYPE "public"."rule_basis" AS ENUM('usual', 'own', 'maker');--> statement-breakpoint
CREATE TABLE "rule_override" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "rule_override_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"base_id" integer,
	"boat_id" integer,
	"engine_id" integer,
	"task" "task_kind" NOT NULL,
	"every_hours" numeric(8, 1),
	"every_months" smallint,
	"reason" text NOT NULL,
	"person_id" integer,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "rule_override_one_place" CHECK (num_nonnulls("rule_override"."base_id", "rule_override"."boat_id", "rule_override"."engine_id") = 1),
	CONSTRAINT "rule_override_some_limit" CHECK ("rule_override"."every_hours" is not null or "rule_override"."every_months" is not null),
	CONSTRAINT "rule_override_positive" CHECK (coalesce("rule_override"."every_hours", 1) > 0 and coalesce("rule_override"."every_months", 1) > 0),
	CONSTRAINT "rule_override_reason" CHECK (btrim("rule_override"."reason") <> '')
);
--> statement-breakpoint
CREATE TABLE "school_choice" (
	"school" text PRIMARY KEY NOT NULL,
	"answer" text NOT NULL,
	"person_id" integer,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "programme_rule" ADD COLUMN "basis" "rule_basis" DEFAULT 'own' NOT NULL;--> statement-breakpoint
ALTER TABLE "rule_override" ADD CONSTRAINT "rule_override_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_override" ADD CONSTRAINT "rule_override_boat_id_boat_id_fk" FOREIGN KEY ("boat_id") REFERENCES "public"."boat"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_override" ADD CONSTRAINT "rule_override_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_override" ADD CONSTRAINT "rule_override_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "school_choice" ADD CONSTRAINT "school_choice_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "rule_override_engine" ON "rule_override" USING btree ("engine_id");--> statement-breakpoint
CREATE UNIQUE INDEX "rule_override_once" ON "rule_override" USING btree (coalesce("base_id", 0),coalesce("boat_id", 0),coalesce("engine_id", 0),"task") WHERE "rule_override"."ended_at" is null;--> statement-breakpoint
-- Figures nobody has changed are the usual ones; schools may answer for those.
UPDATE programme_rule SET basis = 'usual'
WHERE (task = 'impeller' AND every_hours = 200 AND every_months = 12) OR (task <> 'impeller' AND every_hours = 100 AND every_months = 12);
--> statement-breakpoint
-- The server's memory of the fleet carries the rules in force: the marks follow answers and overrides.
CREATE FUNCTION touch_all() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(SELECT id FROM engine WHERE NOT retired));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE FUNCTION touch_by_override() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(
    SELECT DISTINCT e.id FROM engine e LEFT JOIN boat b ON b.id = e.boat_id
    JOIN changed c ON c.engine_id = e.id OR c.boat_id = e.boat_id OR c.base_id = b.base_id));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER school_choice_touch AFTER INSERT OR UPDATE OR DELETE ON school_choice FOR EACH STATEMENT EXECUTE FUNCTION touch_all();
--> statement-breakpoint
CREATE TRIGGER rule_override_touch_in AFTER INSERT ON rule_override REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_override();
--> statement-breakpoint
CREATE TRIGGER rule_override_touch_up AFTER UPDATE ON rule_override REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_override();
