-- expands: what is taken from a shelf for no card names who has it.
ALTER TABLE "stock_movement" ADD COLUMN "taken_by" integer;--> statement-breakpoint
ALTER TABLE "stock_movement" ADD CONSTRAINT "stock_movement_taken_by_person_id_fk" FOREIGN KEY ("taken_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "stock_movement_taken" ON "stock_movement" USING btree ("taken_by","part_id");