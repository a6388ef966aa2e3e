-- expands: the yard's own pictures of steps.
CREATE TABLE "step_picture" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "step_picture_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"place" text NOT NULL,
	"model_id" integer,
	"caption" text NOT NULL,
	"type" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	"person_id" integer NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"dropped_at" timestamp with time zone,
	CONSTRAINT "step_picture_type" CHECK ("step_picture"."type" in ('image/jpeg', 'image/png', 'image/webp'))
);
--> statement-breakpoint
ALTER TABLE "step_picture" ADD CONSTRAINT "step_picture_model_id_engine_model_id_fk" FOREIGN KEY ("model_id") REFERENCES "public"."engine_model"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "step_picture" ADD CONSTRAINT "step_picture_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "step_picture_shown" ON "step_picture" USING btree ("place",coalesce("model_id", 0)) WHERE "step_picture"."dropped_at" is null;--> statement-breakpoint
CREATE TRIGGER step_picture_tells AFTER INSERT OR UPDATE ON step_picture FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('templates');
