CREATE TABLE "request_done" (
	"person_id" integer NOT NULL,
	"key" text NOT NULL,
	"request_hash" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"reply" text,
	CONSTRAINT "request_done_person_id_key_pk" PRIMARY KEY("person_id","key")
);
--> statement-breakpoint
ALTER TABLE "request_done" ADD CONSTRAINT "request_done_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "request_done_at" ON "request_done" USING btree ("at");