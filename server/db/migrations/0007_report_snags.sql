CREATE TABLE "snag" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "snag_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"boat_id" integer NOT NULL,
	"engine_id" integer,
	"day" date NOT NULL,
	"text" text NOT NULL,
	"person_id" integer,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"closed_at" timestamp with time zone,
	"closed_by" integer,
	"closed_remark" text,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "snag_text" CHECK (btrim("snag"."text") <> ''),
	CONSTRAINT "snag_closed" CHECK (("snag"."closed_at" is null) = ("snag"."closed_remark" is null))
);
--> statement-breakpoint
CREATE TABLE "snag_photo" (
	"snag_id" integer PRIMARY KEY NOT NULL,
	"type" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "snag_photo_type" CHECK ("snag_photo"."type" in ('image/jpeg', 'image/png', 'image/webp'))
);
--> statement-breakpoint
ALTER TABLE "snag" ADD CONSTRAINT "snag_boat_id_boat_id_fk" FOREIGN KEY ("boat_id") REFERENCES "public"."boat"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "snag" ADD CONSTRAINT "snag_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "snag" ADD CONSTRAINT "snag_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "snag" ADD CONSTRAINT "snag_closed_by_person_id_fk" FOREIGN KEY ("closed_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "snag_photo" ADD CONSTRAINT "snag_photo_snag_id_snag_id_fk" FOREIGN KEY ("snag_id") REFERENCES "public"."snag"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "snag_boat" ON "snag" USING btree ("boat_id");--> statement-breakpoint
CREATE INDEX "snag_open" ON "snag" USING btree ("at") WHERE "snag"."closed_at" is null;