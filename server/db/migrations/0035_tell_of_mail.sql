-- expands: screens hear of mail on its way, of whom it goes to, of calendars that were read, of decisions taken and taken
-- back, of which part fits what, of boxes refused and of pictures of snags.
CREATE TRIGGER mail_tells AFTER INSERT OR UPDATE ON mail FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('mail');
--> statement-breakpoint
CREATE TRIGGER contact_tells AFTER INSERT OR UPDATE ON contact FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('messages');
--> statement-breakpoint
CREATE TRIGGER message_choice_tells AFTER INSERT OR UPDATE ON message_choice FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('messages');
--> statement-breakpoint
CREATE TRIGGER hire_feed_tells AFTER INSERT OR UPDATE OR DELETE ON hire_feed FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('hires');
--> statement-breakpoint
CREATE TRIGGER change_tells AFTER INSERT OR UPDATE ON change FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('changes');
--> statement-breakpoint
CREATE TRIGGER fitment_tells AFTER INSERT OR UPDATE OR DELETE ON fitment FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('stock');
--> statement-breakpoint
CREATE TRIGGER gateway_tells AFTER INSERT OR UPDATE OR DELETE ON gateway FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('boxes');
--> statement-breakpoint
CREATE TRIGGER gateway_refusal_tells AFTER INSERT OR UPDATE ON gateway_refusal FOR EACH STATEMENT EXECUTE FUNCTION tell_subject('boxes');
--> statement-breakpoint
CREATE TRIGGER snag_photo_told AFTER INSERT ON snag_photo FOR EACH ROW EXECUTE FUNCTION tell_change('snag', 'snag_id');
