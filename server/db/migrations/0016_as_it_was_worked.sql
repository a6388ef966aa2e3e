ALTER TABLE "job" ADD COLUMN "school_answers" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "job" ADD COLUMN "worked_by" jsonb;--> statement-breakpoint
-- Cards of before go on with the answers that stand now.
UPDATE "job" SET "school_answers" = coalesce((SELECT jsonb_object_agg(school, answer) FROM school_choice), '{}'::jsonb);
