CREATE TABLE "shelf_place" (
	"part_id" integer NOT NULL,
	"base_id" integer NOT NULL,
	"place" text NOT NULL,
	CONSTRAINT "shelf_place_part_id_base_id_pk" PRIMARY KEY("part_id","base_id"),
	CONSTRAINT "shelf_place_some" CHECK (btrim("shelf_place"."place") <> '')
);
--> statement-breakpoint
CREATE TABLE "part_wanted" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "part_wanted_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"engine_id" integer NOT NULL,
	"task" "task_kind" NOT NULL,
	"finding_id" integer,
	"job_id" integer,
	"why" text NOT NULL,
	"asked_by" integer,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"closed_at" timestamp with time zone,
	"closed_by" integer,
	"closed_because" text,
	CONSTRAINT "part_wanted_closed" CHECK (("part_wanted"."closed_at" is null) = ("part_wanted"."closed_because" is null))
);
--> statement-breakpoint
ALTER TABLE "shelf_place" ADD CONSTRAINT "shelf_place_part_id_part_id_fk" FOREIGN KEY ("part_id") REFERENCES "public"."part"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "shelf_place" ADD CONSTRAINT "shelf_place_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part_wanted" ADD CONSTRAINT "part_wanted_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part_wanted" ADD CONSTRAINT "part_wanted_finding_id_finding_id_fk" FOREIGN KEY ("finding_id") REFERENCES "public"."finding"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part_wanted" ADD CONSTRAINT "part_wanted_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part_wanted" ADD CONSTRAINT "part_wanted_asked_by_person_id_fk" FOREIGN KEY ("asked_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part_wanted" ADD CONSTRAINT "part_wanted_closed_by_person_id_fk" FOREIGN KEY ("closed_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "part_wanted_open" ON "part_wanted" USING btree ("at") WHERE "part_wanted"."closed_at" is null;--> statement-breakpoint
CREATE INDEX "part_wanted_engine" ON "part_wanted" USING btree ("engine_id");--> statement-breakpoint
CREATE TRIGGER part_wanted_told AFTER INSERT OR UPDATE ON part_wanted FOR EACH ROW EXECUTE FUNCTION tell_change('wanted', 'id');
