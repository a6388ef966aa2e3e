CREATE TABLE "break_in_entry" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "break_in_entry_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"engine_id" integer NOT NULL,
	"day" date NOT NULL,
	"hours" numeric(8, 1) NOT NULL,
	"person_id" integer,
	"remark" text,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "break_in_hours" CHECK ("break_in_entry"."hours" > 0 and "break_in_entry"."hours" <= 24)
);
--> statement-breakpoint
ALTER TABLE "break_in_entry" ADD CONSTRAINT "break_in_entry_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "break_in_entry" ADD CONSTRAINT "break_in_entry_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "break_in_engine" ON "break_in_entry" USING btree ("engine_id");--> statement-breakpoint
CREATE TRIGGER break_in_entry_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON break_in_entry FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
