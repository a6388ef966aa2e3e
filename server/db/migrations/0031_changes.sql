-- expands: decisions about cards, which an older version does not read.
CREATE TYPE "public"."change_kind" AS ENUM('plan', 'slip', 'card', 'undo');--> statement-breakpoint
CREATE TABLE "change" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "change_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"kind" "change_kind" NOT NULL,
	"text" text NOT NULL,
	"person_id" integer,
	"at" timestamp with time zone NOT NULL,
	"undoes" integer,
	"seen_entry" bigint NOT NULL,
	CONSTRAINT "change_undo" CHECK (("change"."kind" = 'undo') = ("change"."undoes" is not null))
);
--> statement-breakpoint
CREATE TABLE "change_card" (
	"change_id" integer NOT NULL,
	"job_id" integer NOT NULL,
	"before" jsonb,
	"after" jsonb NOT NULL,
	CONSTRAINT "change_card_change_id_job_id_pk" PRIMARY KEY("change_id","job_id")
);
--> statement-breakpoint
ALTER TABLE "change" ADD CONSTRAINT "change_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change" ADD CONSTRAINT "change_undoes_change_id_fk" FOREIGN KEY ("undoes") REFERENCES "public"."change"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change_card" ADD CONSTRAINT "change_card_change_id_change_id_fk" FOREIGN KEY ("change_id") REFERENCES "public"."change"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change_card" ADD CONSTRAINT "change_card_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "change_undoes" ON "change" USING btree ("undoes");--> statement-breakpoint
CREATE INDEX "change_card_job" ON "change_card" USING btree ("job_id");--> statement-breakpoint
CREATE TRIGGER change_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON change FOR EACH STATEMENT EXECUTE FUNCTION touch_book();
--> statement-breakpoint
CREATE TRIGGER change_card_touches_book AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON change_card FOR EACH STATEMENT EXECUTE FUNCTION touch_book();
