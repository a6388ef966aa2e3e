-- expands: what the season wants of engines is worked out anew when it changes.
CREATE TRIGGER base_season_touch AFTER INSERT OR UPDATE OR DELETE ON base_season FOR EACH STATEMENT EXECUTE FUNCTION touch_all();--> statement-breakpoint
CREATE TRIGGER boat_season_touch_in AFTER INSERT ON boat_season REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_boat_id();--> statement-breakpoint
CREATE TRIGGER boat_season_touch_up AFTER UPDATE ON boat_season REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_boat_id();--> statement-breakpoint
CREATE TRIGGER season_change_touch_in AFTER INSERT ON season_change REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();--> statement-breakpoint
CREATE TRIGGER season_change_touch_up AFTER UPDATE ON season_change REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();--> statement-breakpoint
CREATE TRIGGER season_change_touch_out AFTER DELETE ON season_change REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
