-- expands: whom the yard buys from, what they sell, and orders; what is on the way may stand on one.
CREATE TABLE "offer" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "offer_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"supplier_id" integer NOT NULL,
	"part_id" integer NOT NULL,
	"number" text,
	"pack_quantity" numeric(12, 2) NOT NULL,
	"breaks" jsonb NOT NULL,
	CONSTRAINT "offer_pack" CHECK ("offer"."pack_quantity" > 0)
);
--> statement-breakpoint
CREATE TABLE "purchase" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "purchase_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"supplier_id" integer NOT NULL,
	"base_id" integer NOT NULL,
	"day" date NOT NULL,
	"carriage_minor" integer NOT NULL,
	"person_id" integer,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "supplier" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "supplier_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"contact_id" integer,
	"lead_days" integer NOT NULL,
	"weekdays" integer[] NOT NULL,
	"carriage_minor" integer NOT NULL,
	"free_from_minor" integer,
	"least_minor" integer DEFAULT 0 NOT NULL,
	"retired" boolean DEFAULT false NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "supplier_numbers" CHECK ("supplier"."lead_days" >= 0 and "supplier"."carriage_minor" >= 0 and "supplier"."least_minor" >= 0)
);
--> statement-breakpoint
ALTER TABLE "part_arrival" ADD COLUMN "received" numeric(12, 2);--> statement-breakpoint
ALTER TABLE "part_arrival" ADD COLUMN "purchase_id" integer;--> statement-breakpoint
ALTER TABLE "part_arrival" ADD COLUMN "packs" integer;--> statement-breakpoint
ALTER TABLE "part_arrival" ADD COLUMN "pack_quantity" numeric(12, 2);--> statement-breakpoint
ALTER TABLE "part_arrival" ADD COLUMN "price_minor" integer;--> statement-breakpoint
ALTER TABLE "offer" ADD CONSTRAINT "offer_supplier_id_supplier_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."supplier"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "offer" ADD CONSTRAINT "offer_part_id_part_id_fk" FOREIGN KEY ("part_id") REFERENCES "public"."part"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase" ADD CONSTRAINT "purchase_supplier_id_supplier_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."supplier"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase" ADD CONSTRAINT "purchase_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase" ADD CONSTRAINT "purchase_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier" ADD CONSTRAINT "supplier_contact_id_contact_id_fk" FOREIGN KEY ("contact_id") REFERENCES "public"."contact"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "offer_once" ON "offer" USING btree ("supplier_id","part_id","pack_quantity");--> statement-breakpoint
CREATE INDEX "offer_part" ON "offer" USING btree ("part_id");--> statement-breakpoint
CREATE INDEX "purchase_supplier" ON "purchase" USING btree ("supplier_id","day");--> statement-breakpoint
CREATE UNIQUE INDEX "supplier_name" ON "supplier" USING btree (lower("name"));--> statement-breakpoint
ALTER TABLE "part_arrival" ADD CONSTRAINT "part_arrival_purchase_id_purchase_id_fk" FOREIGN KEY ("purchase_id") REFERENCES "public"."purchase"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "part_arrival_purchase" ON "part_arrival" USING btree ("purchase_id");--> statement-breakpoint
CREATE TRIGGER supplier_tells AFTER INSERT OR UPDATE OR DELETE ON supplier FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');--> statement-breakpoint
CREATE TRIGGER offer_tells AFTER INSERT OR UPDATE OR DELETE ON offer FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');--> statement-breakpoint
CREATE TRIGGER purchase_tells AFTER INSERT OR UPDATE OR DELETE ON purchase FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');
