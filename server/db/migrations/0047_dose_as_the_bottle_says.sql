-- expands: a base keeps what the bottle of its stabiliser says.
ALTER TABLE "base_season" ADD COLUMN "dose_ml_per_ten" smallint;