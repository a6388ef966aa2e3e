-- expands: shelves are summed up from their index alone.
DROP INDEX "stock_movement_shelf";--> statement-breakpoint
CREATE INDEX "part_list" ON "part" USING btree ("kind","number");--> statement-breakpoint
CREATE INDEX "stock_movement_base" ON "stock_movement" USING btree ("base_id","part_id","quantity");--> statement-breakpoint
CREATE INDEX "stock_movement_shelf" ON "stock_movement" USING btree ("part_id","base_id","quantity");