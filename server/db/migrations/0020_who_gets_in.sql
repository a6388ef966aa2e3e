CREATE TABLE "known_device" (
	"person_id" integer NOT NULL,
	"device_hash" text NOT NULL,
	"last_at" timestamp with time zone NOT NULL,
	CONSTRAINT "known_device_person_id_device_hash_pk" PRIMARY KEY("person_id","device_hash")
);
--> statement-breakpoint
CREATE TABLE "recovery_code" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "recovery_code_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"person_id" integer NOT NULL,
	"code_hash" text NOT NULL,
	"used_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "second_factor" (
	"person_id" integer PRIMARY KEY NOT NULL,
	"secret" text NOT NULL,
	"confirmed_at" timestamp with time zone,
	"last_step" bigint DEFAULT 0 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "open_password" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "session" ADD COLUMN "seen_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "setting" ADD COLUMN "second_factor" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "known_device" ADD CONSTRAINT "known_device_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recovery_code" ADD CONSTRAINT "recovery_code_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "second_factor" ADD CONSTRAINT "second_factor_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "recovery_code_of_person" ON "recovery_code" USING btree ("person_id","code_hash");--> statement-breakpoint
-- Whoever was filled in by the demo has a password anyone may read.
UPDATE person SET open_password = true WHERE EXISTS (SELECT 1 FROM setting WHERE demo);
