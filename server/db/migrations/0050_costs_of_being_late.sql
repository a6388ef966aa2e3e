-- expands: a base says what being late costs it.
ALTER TABLE "base_season" ADD COLUMN "frost_day" integer;--> statement-breakpoint
ALTER TABLE "base_season" ADD COLUMN "wait_day" integer;--> statement-breakpoint
ALTER TABLE "base_season" ADD COLUMN "old_oil" integer;--> statement-breakpoint
ALTER TABLE "base_season" ADD COLUMN "not_at_all" integer;