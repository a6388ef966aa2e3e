-- expands: which column of somebody's own file is which of the book's, remembered for the next one.
CREATE TABLE "file_match" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "file_match_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"kind" text NOT NULL,
	"supplier_id" integer,
	"columns" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "file_match" ADD CONSTRAINT "file_match_supplier_id_supplier_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."supplier"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "file_match_once" ON "file_match" USING btree ("kind",coalesce("supplier_id", 0));