-- expands: how the yard writes hours, weeks and volumes.
CREATE TYPE "public"."clock" AS ENUM('24', '12');--> statement-breakpoint
CREATE TYPE "public"."volumes" AS ENUM('litres', 'quarts');--> statement-breakpoint
ALTER TABLE "setting" ADD COLUMN "clock" "clock" DEFAULT '24' NOT NULL;--> statement-breakpoint
ALTER TABLE "setting" ADD COLUMN "week_starts" smallint DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "setting" ADD COLUMN "volumes" "volumes" DEFAULT 'litres' NOT NULL;--> statement-breakpoint
ALTER TABLE "setting" ADD CONSTRAINT "setting_week" CHECK ("setting"."week_starts" in (1, 6, 7));