-- expands: transoms and builds by serial, which an older version does not read.
CREATE TYPE "public"."transom" AS ENUM('short', 'long', 'extra long', 'ultra long');--> statement-breakpoint
DROP INDEX "fitment_once";--> statement-breakpoint
ALTER TABLE "engine" ADD COLUMN "transom" "transom";--> statement-breakpoint
ALTER TABLE "engine_model" ADD COLUMN "variants" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "fitment" ADD COLUMN "transom" "transom";--> statement-breakpoint
CREATE UNIQUE INDEX "fitment_once" ON "fitment" USING btree ("part_id","model_id","task",coalesce("serial_from", ''),coalesce("serial_to", ''),coalesce("transom", 'short'),("transom" is null));