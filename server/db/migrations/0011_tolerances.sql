ALTER TABLE "boat" ADD COLUMN "salt" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "programme_rule" ADD COLUMN "early_percent" smallint;--> statement-breakpoint
ALTER TABLE "programme_rule" ADD COLUMN "late_percent" smallint;--> statement-breakpoint
ALTER TABLE "programme_rule" ADD COLUMN "sand_percent" smallint;--> statement-breakpoint
ALTER TABLE "programme_rule" ADD COLUMN "salt_percent" smallint;--> statement-breakpoint
ALTER TABLE "programme_rule" ADD CONSTRAINT "programme_rule_percents" CHECK ("programme_rule"."early_percent" between 0 and 50 and "programme_rule"."late_percent" between 0 and 25 and "programme_rule"."sand_percent" between 10 and 100 and "programme_rule"."salt_percent" between 10 and 100);