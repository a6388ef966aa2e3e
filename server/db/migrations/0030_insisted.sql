-- expands: why a card was handed out although something was against it.
ALTER TABLE "job" ADD COLUMN "insisted" jsonb;