-- expands: what is bought from whom is part of answers that are kept while the book is unchanged.
CREATE TRIGGER supplier_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON supplier FOR EACH STATEMENT EXECUTE FUNCTION touch_book();
--> statement-breakpoint
CREATE TRIGGER offer_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON offer FOR EACH STATEMENT EXECUTE FUNCTION touch_book();
--> statement-breakpoint
CREATE TRIGGER purchase_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON purchase FOR EACH STATEMENT EXECUTE FUNCTION touch_book();
