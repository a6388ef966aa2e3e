-- expands: work put off, which an older version does not read.
CREATE TABLE "deferral" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "deferral_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"engine_id" integer NOT NULL,
	"task" "task_kind" NOT NULL,
	"until" date NOT NULL,
	"spring" boolean DEFAULT false NOT NULL,
	"reason" text NOT NULL,
	"person_id" integer,
	"day" date NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"ended_at" timestamp with time zone,
	"ended_by" integer,
	CONSTRAINT "deferral_reason" CHECK (btrim("deferral"."reason") <> ''),
	CONSTRAINT "deferral_until" CHECK ("deferral"."until" >= "deferral"."day")
);
--> statement-breakpoint
ALTER TABLE "deferral" ADD CONSTRAINT "deferral_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deferral" ADD CONSTRAINT "deferral_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deferral" ADD CONSTRAINT "deferral_ended_by_person_id_fk" FOREIGN KEY ("ended_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "deferral_open" ON "deferral" USING btree ("engine_id","task") WHERE "deferral"."ended_at" is null;--> statement-breakpoint
CREATE TRIGGER deferral_touch_in AFTER INSERT ON deferral REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER deferral_touch_up AFTER UPDATE ON deferral REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER deferral_tells AFTER INSERT OR UPDATE ON deferral FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('service');
--> statement-breakpoint
CREATE TRIGGER deferral_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON deferral FOR EACH STATEMENT EXECUTE FUNCTION touch_book();
--> statement-breakpoint
CREATE TRIGGER break_in_touch AFTER INSERT ON break_in_entry REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
