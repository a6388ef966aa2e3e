-- expands: two more kinds of work
ALTER TYPE "public"."task_kind" ADD VALUE 'battery-check' BEFORE 'gear-seals';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'running-in' BEFORE 'gear-seals';