-- expands: messages by mail: where people have it, whom outside, what is on its way; notices know what they are about.
CREATE TYPE "public"."contact_hears" AS ENUM('hires', 'morning');--> statement-breakpoint
CREATE TYPE "public"."mail_kind" AS ENUM('told', 'morning', 'written', 'trial');--> statement-breakpoint
CREATE TYPE "public"."mail_state" AS ENUM('waiting', 'sent', 'failed', 'stopped');--> statement-breakpoint
CREATE TYPE "public"."message_kind" AS ENUM('work', 'card', 'desk', 'hires', 'door');--> statement-breakpoint
CREATE TABLE "contact" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "contact_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"address" text NOT NULL,
	"base_id" integer,
	"hears" "contact_hears"[] DEFAULT '{}' NOT NULL,
	"active" boolean DEFAULT true NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "contact_name_given" CHECK (btrim("contact"."name") <> '')
);
--> statement-breakpoint
CREATE TABLE "mail" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "mail_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"at" timestamp with time zone NOT NULL,
	"kind" "mail_kind" NOT NULL,
	"person_id" integer,
	"contact_id" integer,
	"subject" text,
	"parts" jsonb NOT NULL,
	"day" date,
	"state" "mail_state" DEFAULT 'waiting' NOT NULL,
	"tries" smallint DEFAULT 0 NOT NULL,
	"next_at" timestamp with time zone NOT NULL,
	"until_at" timestamp with time zone NOT NULL,
	"fault" text,
	"sent_at" timestamp with time zone,
	"sent_to" text,
	"written_by" integer,
	CONSTRAINT "mail_to_somebody" CHECK (("mail"."person_id" is null) <> ("mail"."contact_id" is null)),
	CONSTRAINT "mail_sent" CHECK (("mail"."state" = 'sent') = ("mail"."sent_at" is not null))
);
--> statement-breakpoint
CREATE TABLE "message_choice" (
	"person_id" integer PRIMARY KEY NOT NULL,
	"address" text NOT NULL,
	"choices" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"morning" boolean DEFAULT true NOT NULL,
	"version" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "setting" ADD COLUMN "morning_minute" smallint DEFAULT 360 NOT NULL;--> statement-breakpoint
ALTER TABLE "notice" ADD COLUMN "kind" "message_kind" DEFAULT 'work' NOT NULL;--> statement-breakpoint
ALTER TABLE "contact" ADD CONSTRAINT "contact_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mail" ADD CONSTRAINT "mail_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mail" ADD CONSTRAINT "mail_contact_id_contact_id_fk" FOREIGN KEY ("contact_id") REFERENCES "public"."contact"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mail" ADD CONSTRAINT "mail_written_by_person_id_fk" FOREIGN KEY ("written_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "message_choice" ADD CONSTRAINT "message_choice_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "mail_due" ON "mail" USING btree ("next_at") WHERE "mail"."state" = 'waiting';--> statement-breakpoint
CREATE INDEX "mail_at" ON "mail" USING btree ("at");--> statement-breakpoint
CREATE UNIQUE INDEX "mail_one_morning" ON "mail" USING btree ("person_id","day") WHERE "mail"."day" is not null and "mail"."person_id" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "mail_one_morning_outside" ON "mail" USING btree ("contact_id","day") WHERE "mail"."day" is not null and "mail"."contact_id" is not null;--> statement-breakpoint
ALTER TABLE "setting" ADD CONSTRAINT "setting_morning" CHECK ("setting"."morning_minute" between 0 and 1079);