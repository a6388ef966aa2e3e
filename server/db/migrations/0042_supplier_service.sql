-- expands: where a supplier takes orders, and what they say of one.
CREATE TYPE "public"."purchase_service" AS ENUM('waiting', 'taken', 'answered', 'failed');--> statement-breakpoint
ALTER TABLE "purchase" ADD COLUMN "service" "purchase_service";--> statement-breakpoint
ALTER TABLE "purchase" ADD COLUMN "service_says" text;--> statement-breakpoint
ALTER TABLE "supplier" ADD COLUMN "service_url" text;--> statement-breakpoint
ALTER TABLE "part_arrival" ADD COLUMN "answer" text;