-- Ledgers are added to, never changed or erased.
CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'rows of % are never changed or erased; correct one by a further row', TG_TABLE_NAME
    USING ERRCODE = 'restrict_violation';
END $$;
--> statement-breakpoint
CREATE TRIGGER service_entry_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON service_entry FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
--> statement-breakpoint
CREATE TRIGGER stock_movement_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON stock_movement FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
--> statement-breakpoint
CREATE TRIGGER audit_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON audit FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
--> statement-breakpoint
CREATE TRIGGER reading_kept BEFORE DELETE OR TRUNCATE ON reading FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
--> statement-breakpoint
-- Of a reading only the taking back may be added, once.
CREATE FUNCTION refuse_reading_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.withdrawn_at IS NOT NULL
     OR (OLD.id, OLD.engine_id, OLD.meter_id, OLD.day, OLD.at, OLD.count, OLD.source)
        IS DISTINCT FROM (NEW.id, NEW.engine_id, NEW.meter_id, NEW.day, NEW.at, NEW.count, NEW.source) THEN
    RAISE EXCEPTION 'a reading is never changed; take it back and write a new one' USING ERRCODE = 'restrict_violation';
  END IF;
  RETURN NEW;
END $$;
--> statement-breakpoint
CREATE TRIGGER reading_unchanged BEFORE UPDATE ON reading FOR EACH ROW EXECUTE FUNCTION refuse_reading_change();
--> statement-breakpoint
-- Marks for the server's memory of the fleet: which engines a transaction touched.
CREATE FUNCTION mark_engines(ids integer[]) RETURNS void LANGUAGE sql AS $$
  INSERT INTO engine_touch_cache (engine_id, xid)
  SELECT id, pg_current_xact_id() FROM (SELECT DISTINCT unnest(ids) AS id) t WHERE id IS NOT NULL ORDER BY id
  ON CONFLICT (engine_id) DO UPDATE SET xid = excluded.xid WHERE engine_touch_cache.xid IS DISTINCT FROM excluded.xid;
$$;
--> statement-breakpoint
CREATE FUNCTION touch_by_engine_id() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(SELECT DISTINCT engine_id FROM changed));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE FUNCTION touch_by_id() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(SELECT id FROM changed));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE FUNCTION touch_by_boat() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(SELECT e.id FROM engine e JOIN changed c ON c.id = e.boat_id));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE FUNCTION touch_by_base() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(SELECT e.id FROM engine e JOIN boat b ON b.id = e.boat_id JOIN changed c ON c.id = b.base_id));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE FUNCTION touch_by_model() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(SELECT e.id FROM engine e JOIN changed c ON c.id = e.model_id));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE FUNCTION touch_by_model_id() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(SELECT e.id FROM engine e JOIN changed c ON c.model_id = e.model_id));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER reading_touch_in AFTER INSERT ON reading REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER reading_touch_up AFTER UPDATE ON reading REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER service_entry_touch AFTER INSERT ON service_entry REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER meter_touch_in AFTER INSERT ON meter REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER meter_touch_up AFTER UPDATE ON meter REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER engine_touch_in AFTER INSERT ON engine REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_id();
--> statement-breakpoint
CREATE TRIGGER engine_touch_up AFTER UPDATE ON engine REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_id();
--> statement-breakpoint
CREATE TRIGGER boat_touch AFTER UPDATE ON boat REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_boat();
--> statement-breakpoint
CREATE TRIGGER base_touch AFTER UPDATE ON base REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_base();
--> statement-breakpoint
CREATE TRIGGER model_touch AFTER UPDATE ON engine_model REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_model();
--> statement-breakpoint
CREATE TRIGGER rule_touch_in AFTER INSERT ON programme_rule REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_model_id();
--> statement-breakpoint
CREATE TRIGGER rule_touch_up AFTER UPDATE ON programme_rule REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_model_id();
--> statement-breakpoint
CREATE TRIGGER rule_touch_out AFTER DELETE ON programme_rule REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_model_id();
--> statement-breakpoint
-- Throttled sign-in attempts, laid out as rate-limiter-flexible expects it.
CREATE TABLE sign_in_throttle (key varchar(255) PRIMARY KEY, points integer NOT NULL DEFAULT 0, expire bigint);
