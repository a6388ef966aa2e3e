-- expands: a boat that is back at the dock, when and who said so.
ALTER TABLE "hire" ADD COLUMN "came_back_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "hire" ADD COLUMN "came_back_by" integer;--> statement-breakpoint
ALTER TABLE "hire" ADD CONSTRAINT "hire_came_back_by_person_id_fk" FOREIGN KEY ("came_back_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hire" ADD CONSTRAINT "hire_came_back" CHECK (("hire"."came_back_at" is null) = ("hire"."came_back_by" is null));