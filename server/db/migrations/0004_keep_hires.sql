CREATE TABLE "hire" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "hire_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"boat_id" integer NOT NULL,
	"out_at" timestamp with time zone NOT NULL,
	"back_at" timestamp with time zone NOT NULL,
	"made_at" timestamp with time zone,
	"reference" text,
	"feed_id" integer,
	"uid" text,
	"recurrence" text DEFAULT '' NOT NULL,
	"cancelled_at" timestamp with time zone,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "hire_times" CHECK ("hire"."back_at" > "hire"."out_at" and "hire"."back_at" - "hire"."out_at" <= interval '400 days')
);
--> statement-breakpoint
CREATE TABLE "hire_feed" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "hire_feed_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"url" text NOT NULL,
	"base_id" integer NOT NULL,
	"active" boolean DEFAULT true NOT NULL,
	"read_at" timestamp with time zone,
	"outcome" text,
	"failed" boolean DEFAULT false NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "hire_feed_url" CHECK ("hire_feed"."url" ~ '^https?://')
);
--> statement-breakpoint
ALTER TABLE "hire" ADD CONSTRAINT "hire_boat_id_boat_id_fk" FOREIGN KEY ("boat_id") REFERENCES "public"."boat"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hire" ADD CONSTRAINT "hire_feed_id_hire_feed_id_fk" FOREIGN KEY ("feed_id") REFERENCES "public"."hire_feed"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hire_feed" ADD CONSTRAINT "hire_feed_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "hire_of_boat" ON "hire" USING btree ("boat_id","out_at");--> statement-breakpoint
CREATE INDEX "hire_out" ON "hire" USING btree ("out_at");--> statement-breakpoint
CREATE UNIQUE INDEX "hire_event" ON "hire" USING btree (coalesce("feed_id", 0),"uid","recurrence") WHERE "hire"."uid" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "hire_feed_name" ON "hire_feed" USING btree (lower("name"));--> statement-breakpoint
-- How an engine will run hangs on the hires of its boat: the marks follow them.
CREATE FUNCTION touch_by_boat_id() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM mark_engines(ARRAY(SELECT e.id FROM engine e WHERE e.boat_id IN (SELECT boat_id FROM changed)));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER hire_touch_in AFTER INSERT ON hire REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_boat_id();
--> statement-breakpoint
CREATE TRIGGER hire_touch_from AFTER UPDATE ON hire REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_boat_id();
--> statement-breakpoint
CREATE TRIGGER hire_touch_to AFTER UPDATE ON hire REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_boat_id();
--> statement-breakpoint
CREATE TRIGGER hire_touch_out AFTER DELETE ON hire REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_boat_id();
