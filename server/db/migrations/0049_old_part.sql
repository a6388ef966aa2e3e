-- expands: how the old part was when it was renewed, where no card says.
CREATE TYPE "public"."old_part" AS ENUM('sound', 'spent');--> statement-breakpoint
ALTER TABLE "service_entry" ADD COLUMN "old_part" "old_part";