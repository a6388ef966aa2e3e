-- expands: what a drain took, which an older version does not read.
ALTER TABLE "service_entry" ADD COLUMN "drained" numeric(6, 1);