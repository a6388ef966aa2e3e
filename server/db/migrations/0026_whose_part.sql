-- expands: whose part it is, which an older version does not read.
CREATE TYPE "public"."part_make" AS ENUM('maker', 'approved');--> statement-breakpoint
ALTER TABLE "part" ADD COLUMN "make" "part_make";