-- expands: numbers that stand for others, what is in a kit, containers, lots and what they cost; transfers on their way.
CREATE TYPE "public"."part_link_kind" AS ENUM('superseded by', 'equivalent');--> statement-breakpoint
CREATE TABLE "kit_content" (
	"kit_id" integer NOT NULL,
	"part_id" integer NOT NULL,
	"quantity" numeric(12, 2) NOT NULL,
	CONSTRAINT "kit_content_kit_id_part_id_pk" PRIMARY KEY("kit_id","part_id"),
	CONSTRAINT "kit_content_two" CHECK ("kit_content"."kit_id" <> "kit_content"."part_id"),
	CONSTRAINT "kit_content_some" CHECK ("kit_content"."quantity" > 0)
);
--> statement-breakpoint
CREATE TABLE "open_container" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "open_container_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"part_id" integer NOT NULL,
	"base_id" integer NOT NULL,
	"size_ml" numeric(12, 2) NOT NULL,
	"label" text NOT NULL,
	"opened_at" timestamp with time zone NOT NULL,
	"person_id" integer,
	"ended_at" timestamp with time zone,
	CONSTRAINT "open_container_size" CHECK ("open_container"."size_ml" > 0)
);
--> statement-breakpoint
CREATE TABLE "part_link" (
	"part_id" integer NOT NULL,
	"other_id" integer NOT NULL,
	"kind" "part_link_kind" NOT NULL,
	"approved" boolean NOT NULL,
	"evidence" text NOT NULL,
	"said_by" text NOT NULL,
	"day" date NOT NULL,
	CONSTRAINT "part_link_part_id_other_id_pk" PRIMARY KEY("part_id","other_id"),
	CONSTRAINT "part_link_two" CHECK ("part_link"."part_id" <> "part_link"."other_id"),
	CONSTRAINT "part_link_evidence" CHECK (btrim("part_link"."evidence") <> '' and btrim("part_link"."said_by") <> '')
);
--> statement-breakpoint
CREATE TABLE "pour" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "pour_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"container_id" integer NOT NULL,
	"ml" numeric(12, 2) NOT NULL,
	"movement_id" integer,
	"person_id" integer,
	"at" timestamp with time zone NOT NULL,
	CONSTRAINT "pour_some" CHECK ("pour"."ml" <> 0)
);
--> statement-breakpoint
ALTER TABLE "part" ADD COLUMN "containers" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "part" ADD COLUMN "shelf_life_months" integer;--> statement-breakpoint
ALTER TABLE "stock_movement" ADD COLUMN "lot" text;--> statement-breakpoint
ALTER TABLE "stock_movement" ADD COLUMN "expires" date;--> statement-breakpoint
ALTER TABLE "stock_movement" ADD COLUMN "cost_minor" integer;--> statement-breakpoint
ALTER TABLE "part_arrival" ADD COLUMN "from_base_id" integer;--> statement-breakpoint
ALTER TABLE "kit_content" ADD CONSTRAINT "kit_content_kit_id_part_id_fk" FOREIGN KEY ("kit_id") REFERENCES "public"."part"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kit_content" ADD CONSTRAINT "kit_content_part_id_part_id_fk" FOREIGN KEY ("part_id") REFERENCES "public"."part"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "open_container" ADD CONSTRAINT "open_container_part_id_part_id_fk" FOREIGN KEY ("part_id") REFERENCES "public"."part"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "open_container" ADD CONSTRAINT "open_container_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "open_container" ADD CONSTRAINT "open_container_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part_link" ADD CONSTRAINT "part_link_part_id_part_id_fk" FOREIGN KEY ("part_id") REFERENCES "public"."part"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part_link" ADD CONSTRAINT "part_link_other_id_part_id_fk" FOREIGN KEY ("other_id") REFERENCES "public"."part"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pour" ADD CONSTRAINT "pour_container_id_open_container_id_fk" FOREIGN KEY ("container_id") REFERENCES "public"."open_container"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pour" ADD CONSTRAINT "pour_movement_id_stock_movement_id_fk" FOREIGN KEY ("movement_id") REFERENCES "public"."stock_movement"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pour" ADD CONSTRAINT "pour_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "open_container_shelf" ON "open_container" USING btree ("part_id","base_id") WHERE "open_container"."ended_at" is null;--> statement-breakpoint
CREATE INDEX "part_link_other" ON "part_link" USING btree ("other_id");--> statement-breakpoint
CREATE INDEX "pour_container" ON "pour" USING btree ("container_id");--> statement-breakpoint
ALTER TABLE "part_arrival" ADD CONSTRAINT "part_arrival_from_base_id_base_id_fk" FOREIGN KEY ("from_base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part" ADD CONSTRAINT "part_shelf_life" CHECK ("part"."shelf_life_months" > 0);--> statement-breakpoint
ALTER TABLE "stock_movement" ADD CONSTRAINT "stock_movement_cost" CHECK ("stock_movement"."cost_minor" >= 0);--> statement-breakpoint
CREATE TRIGGER part_link_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON part_link FOR EACH STATEMENT EXECUTE FUNCTION touch_book();--> statement-breakpoint
CREATE TRIGGER part_link_tells AFTER INSERT OR UPDATE OR DELETE ON part_link FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');--> statement-breakpoint
CREATE TRIGGER kit_content_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON kit_content FOR EACH STATEMENT EXECUTE FUNCTION touch_book();--> statement-breakpoint
CREATE TRIGGER kit_content_tells AFTER INSERT OR UPDATE OR DELETE ON kit_content FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');--> statement-breakpoint
CREATE TRIGGER open_container_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON open_container FOR EACH STATEMENT EXECUTE FUNCTION touch_book();--> statement-breakpoint
CREATE TRIGGER open_container_tells AFTER INSERT OR UPDATE OR DELETE ON open_container FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');--> statement-breakpoint
CREATE TRIGGER pour_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON pour FOR EACH STATEMENT EXECUTE FUNCTION touch_book();--> statement-breakpoint
CREATE TRIGGER pour_tells AFTER INSERT OR UPDATE OR DELETE ON pour FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');--> statement-breakpoint
CREATE TRIGGER pour_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON pour FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
