-- expands: the break of a working day, by base.
ALTER TABLE "base" ADD COLUMN "break_minutes" smallint DEFAULT 30 NOT NULL;--> statement-breakpoint
ALTER TABLE "base" ADD COLUMN "break_from" smallint DEFAULT 690 NOT NULL;--> statement-breakpoint
ALTER TABLE "base" ADD COLUMN "break_to" smallint DEFAULT 840 NOT NULL;--> statement-breakpoint
ALTER TABLE "base" ADD CONSTRAINT "base_break" CHECK ("base"."break_minutes" between 0 and 240 and "base"."break_from" between 0 and 1439 and "base"."break_to" <= 1440 and "base"."break_to" >= "base"."break_from" + "base"."break_minutes");