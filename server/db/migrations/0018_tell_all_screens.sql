-- Screens hear of every change, not of cards alone. One message a statement and subject, however many rows: a file
-- with ten thousand readings tells once.
CREATE FUNCTION tell_subject() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('diurna', TG_ARGV[0]);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER reading_tells AFTER INSERT OR UPDATE ON reading FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('readings');
--> statement-breakpoint
CREATE TRIGGER meter_tells AFTER INSERT OR UPDATE ON meter FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('readings');
--> statement-breakpoint
CREATE TRIGGER service_entry_tells AFTER INSERT ON service_entry FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('service');
--> statement-breakpoint
CREATE TRIGGER break_in_tells AFTER INSERT ON break_in_entry FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('service');
--> statement-breakpoint
CREATE TRIGGER follow_up_tells AFTER INSERT OR UPDATE ON follow_up FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('service');
--> statement-breakpoint
CREATE TRIGGER stock_tells AFTER INSERT ON stock_movement FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');
--> statement-breakpoint
CREATE TRIGGER part_tells AFTER INSERT OR UPDATE ON part FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');
--> statement-breakpoint
CREATE TRIGGER part_arrival_tells AFTER INSERT OR UPDATE ON part_arrival FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');
--> statement-breakpoint
CREATE TRIGGER shelf_place_tells AFTER INSERT OR UPDATE OR DELETE ON shelf_place FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');
--> statement-breakpoint
CREATE TRIGGER hire_tells AFTER INSERT OR UPDATE ON hire FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('hires');
--> statement-breakpoint
CREATE TRIGGER school_choice_tells AFTER INSERT OR UPDATE ON school_choice FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('rules');
--> statement-breakpoint
CREATE TRIGGER rule_override_tells AFTER INSERT OR UPDATE ON rule_override FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('rules');
--> statement-breakpoint
CREATE TRIGGER programme_rule_tells AFTER INSERT OR UPDATE OR DELETE ON programme_rule FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('rules');
--> statement-breakpoint
CREATE TRIGGER step_template_tells AFTER INSERT ON step_template FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('templates');
--> statement-breakpoint
CREATE TRIGGER boat_tells AFTER INSERT OR UPDATE ON boat FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('fleet');
--> statement-breakpoint
CREATE TRIGGER engine_tells AFTER INSERT OR UPDATE ON engine FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('fleet');
--> statement-breakpoint
CREATE TRIGGER model_tells AFTER INSERT OR UPDATE ON engine_model FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('fleet');
--> statement-breakpoint
CREATE TRIGGER base_tells AFTER INSERT OR UPDATE ON base FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('fleet');
--> statement-breakpoint
CREATE TRIGGER person_tells AFTER INSERT OR UPDATE ON person FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('people');
--> statement-breakpoint
CREATE TRIGGER person_shift_tells AFTER INSERT OR UPDATE OR DELETE ON person_shift FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('work');
--> statement-breakpoint
CREATE TRIGGER person_exception_tells AFTER INSERT OR UPDATE OR DELETE ON person_exception FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('work');
--> statement-breakpoint
CREATE TRIGGER closed_day_tells AFTER INSERT OR UPDATE OR DELETE ON closed_day FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('work');
--> statement-breakpoint
CREATE TRIGGER lift_out_tells AFTER INSERT OR UPDATE OR DELETE ON lift_out FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('work');
--> statement-breakpoint
CREATE TRIGGER accepted_plan_tells AFTER INSERT ON accepted_plan FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('plan');
--> statement-breakpoint
CREATE TRIGGER notice_tells AFTER INSERT ON notice FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('notices');
--> statement-breakpoint
CREATE TRIGGER waste_tells AFTER INSERT ON waste_entry FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('waste');
--> statement-breakpoint
CREATE TRIGGER setting_tells AFTER UPDATE ON setting FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('people');
--> statement-breakpoint
DROP TRIGGER hire_let_go_told ON hire;
