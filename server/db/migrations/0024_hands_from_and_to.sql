-- expands: kinds of work and columns an older version does not know.
ALTER TYPE "public"."task_kind" ADD VALUE 'oil-level' BEFORE 'gear-seals';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'oil-pressure' BEFORE 'passages';--> statement-breakpoint
ALTER TABLE "service_entry" ADD COLUMN "began_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "service_entry" ADD COLUMN "ended_at" timestamp with time zone;