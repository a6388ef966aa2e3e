ALTER TYPE "public"."reading_source" ADD VALUE 'gateway';--> statement-breakpoint
CREATE TABLE "gateway" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "gateway_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"boat_id" integer NOT NULL,
	"key_hash" text NOT NULL,
	"active" boolean DEFAULT true NOT NULL,
	"heard_at" timestamp with time zone,
	"clock_off" boolean DEFAULT false NOT NULL,
	"taken" bigint DEFAULT 0 NOT NULL,
	"repeated" bigint DEFAULT 0 NOT NULL,
	"late" bigint DEFAULT 0 NOT NULL,
	"refused" bigint DEFAULT 0 NOT NULL,
	"other" bigint DEFAULT 0 NOT NULL,
	"version" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "gateway_heard" (
	"engine_id" integer PRIMARY KEY NOT NULL,
	"gateway_id" integer NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"seconds" bigint NOT NULL,
	"written_seconds" bigint,
	"written_at" timestamp with time zone,
	CONSTRAINT "gateway_heard_seconds" CHECK ("gateway_heard"."seconds" >= 0)
);
--> statement-breakpoint
CREATE TABLE "gateway_refusal" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "gateway_refusal_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"gateway_id" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"text" text NOT NULL,
	"why" text NOT NULL
);
--> statement-breakpoint
DROP INDEX "reading_of_meter";--> statement-breakpoint
ALTER TABLE "gateway" ADD CONSTRAINT "gateway_boat_id_boat_id_fk" FOREIGN KEY ("boat_id") REFERENCES "public"."boat"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gateway_heard" ADD CONSTRAINT "gateway_heard_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gateway_heard" ADD CONSTRAINT "gateway_heard_gateway_id_gateway_id_fk" FOREIGN KEY ("gateway_id") REFERENCES "public"."gateway"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gateway_refusal" ADD CONSTRAINT "gateway_refusal_gateway_id_gateway_id_fk" FOREIGN KEY ("gateway_id") REFERENCES "public"."gateway"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "gateway_name" ON "gateway" USING btree (lower("name"));--> statement-breakpoint
CREATE UNIQUE INDEX "gateway_key" ON "gateway" USING btree ("key_hash");--> statement-breakpoint
CREATE INDEX "gateway_heard_gateway" ON "gateway_heard" USING btree ("gateway_id");--> statement-breakpoint
CREATE INDEX "gateway_refusal_gateway" ON "gateway_refusal" USING btree ("gateway_id","id");