ALTER TABLE "step_template" ALTER COLUMN "task" SET DATA TYPE text;--> statement-breakpoint
ALTER TABLE "step_template" RENAME COLUMN "task" TO "key";--> statement-breakpoint
ALTER TABLE "step_template" RENAME CONSTRAINT "step_template_task_version_pk" TO "step_template_key_version_pk";--> statement-breakpoint
ALTER TABLE "job" ADD COLUMN "access_versions" jsonb DEFAULT '{}'::jsonb NOT NULL;
