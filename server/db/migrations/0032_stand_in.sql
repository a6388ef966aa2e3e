-- expands: what boats are hired out as, and the boat a hire was booked for.
ALTER TABLE "boat" ADD COLUMN "boat_class" text;--> statement-breakpoint
ALTER TABLE "hire" ADD COLUMN "given_from" integer;--> statement-breakpoint
ALTER TABLE "hire" ADD CONSTRAINT "hire_given_from_boat_id_fk" FOREIGN KEY ("given_from") REFERENCES "public"."boat"("id") ON DELETE no action ON UPDATE no action;