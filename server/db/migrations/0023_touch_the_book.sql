-- expands: marks an older version does not read.
CREATE TABLE "book_touch_cache" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "book_touch_cache_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"xid" "xid8" NOT NULL
);
--> statement-breakpoint
CREATE INDEX "book_touch_xid" ON "book_touch_cache" USING btree ("xid");
--> statement-breakpoint
CREATE FUNCTION touch_book() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  -- Once a transaction and statement, without a row that two writers would wait for.
  INSERT INTO book_touch_cache (xid) VALUES (pg_current_xact_id());
  RETURN NULL;
END $$;
--> statement-breakpoint
-- Every table of the book, but for what nobody sees of it: who is signed in, limits, tallies, marks and the audit.
DO $$
DECLARE
  name text;
BEGIN
  FOR name IN SELECT table_name FROM information_schema.tables WHERE table_schema = 'public'
    AND table_type = 'BASE TABLE' AND table_name NOT IN ('session', 'sign_in_throttle', 'app_secret', 'second_factor',
      'recovery_code', 'known_device', 'picture_upload', 'request_done', 'watched_hour', 'book_touch_cache',
      'engine_touch_cache', 'audit', 'gateway', 'gateway_heard', 'gateway_refusal')
  LOOP
    EXECUTE format('CREATE TRIGGER %I AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON %I FOR EACH STATEMENT EXECUTE FUNCTION touch_book()',
      name || '_touches_book', name);
  END LOOP;
END $$;
