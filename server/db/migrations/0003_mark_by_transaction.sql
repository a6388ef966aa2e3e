CREATE TABLE "engine_touch_cache" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "engine_touch_cache_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"xid" "xid8" NOT NULL,
	"engine_ids" integer[] NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE INDEX "engine_touch_xid" ON "engine_touch_cache" USING btree ("xid");--> statement-breakpoint
CREATE OR REPLACE FUNCTION mark_engines(ids integer[]) RETURNS void LANGUAGE sql AS $$
  INSERT INTO engine_touch_cache (xid, engine_ids)
  SELECT pg_current_xact_id(), array_remove(ids, NULL) WHERE cardinality(array_remove(ids, NULL)) > 0;
$$;
--> statement-breakpoint
-- The server's memory of the fleet carries which card a task stands on: the marks follow cards too.
CREATE FUNCTION touch_by_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(SELECT DISTINCT t.engine_id FROM job_task t JOIN changed c ON c.id = t.job_id));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE FUNCTION touch_by_technician() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(SELECT DISTINCT t.engine_id FROM job_task t JOIN job j ON j.id = t.job_id JOIN changed c ON c.id = j.technician_id WHERE t.on_open_job));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER job_task_touch_in AFTER INSERT ON job_task REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER job_task_touch_up AFTER UPDATE ON job_task REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER job_task_touch_out AFTER DELETE ON job_task REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER job_touch AFTER UPDATE ON job REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_job();
--> statement-breakpoint
CREATE TRIGGER person_touch AFTER UPDATE ON person REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_technician();
