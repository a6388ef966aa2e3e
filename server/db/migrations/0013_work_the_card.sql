CREATE TYPE "public"."template_origin" AS ENUM('shipped', 'own');--> statement-breakpoint
CREATE TYPE "public"."finding_state" AS ENUM('open', 'taken', 'overridden', 'withdrawn');--> statement-breakpoint
CREATE TYPE "public"."finding_weight" AS ENUM('normal', 'watch', 'act', 'hold', 'stop');--> statement-breakpoint
CREATE TYPE "public"."waste_stream" AS ENUM('used oil', 'gear lube', 'fuel', 'filters', 'rags');--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'fuel-filter' BEFORE 'gear-lube';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'separator' BEFORE 'gear-lube';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'thermostat';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'anodes';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'grease';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'prop-shaft';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'compression';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'look-over';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'first-outing';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'gear-seals';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'gear-inspection';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'fuel-repair';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'leak-down';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'oil-trace';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'passages';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'bonding';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'tank-check';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'flush';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'stabiliser';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'fogging';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'bowls';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'antifreeze';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'steering-rod';--> statement-breakpoint
ALTER TYPE "public"."task_kind" ADD VALUE 'battery';--> statement-breakpoint
CREATE TABLE "job_entry" (
	"seq" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "job_entry_seq_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"id" uuid NOT NULL,
	"job_id" integer NOT NULL,
	"person_id" integer NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"received_at" timestamp with time zone DEFAULT now() NOT NULL,
	"act" jsonb NOT NULL,
	"engine_id" integer,
	"seen" bigint NOT NULL,
	"against" bigint,
	CONSTRAINT "job_entry_once" UNIQUE("id")
);
--> statement-breakpoint
CREATE TABLE "job_photo" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "job_photo_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"job_id" integer NOT NULL,
	"type" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "job_photo_type" CHECK ("job_photo"."type" in ('image/jpeg', 'image/png', 'image/webp'))
);
--> statement-breakpoint
CREATE TABLE "step_template" (
	"task" "task_kind" NOT NULL,
	"version" integer NOT NULL,
	"origin" "template_origin" NOT NULL,
	"lines" jsonb NOT NULL,
	"person_id" integer,
	"reason" text,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "step_template_task_version_pk" PRIMARY KEY("task","version"),
	CONSTRAINT "step_template_version" CHECK ("step_template"."version" > 0)
);
--> statement-breakpoint
CREATE TABLE "finding" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "finding_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"job_id" integer NOT NULL,
	"engine_id" integer NOT NULL,
	"code" text NOT NULL,
	"weight" "finding_weight" NOT NULL,
	"seen" text NOT NULL,
	"means" text NOT NULL,
	"does" text NOT NULL,
	"proposals" jsonb NOT NULL,
	"readings" jsonb NOT NULL,
	"state" "finding_state" DEFAULT 'open' NOT NULL,
	"decided_by" integer,
	"decided_at" timestamp with time zone,
	"reason" text,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "finding_overridden" CHECK ("finding"."state" <> 'overridden' or btrim("finding"."reason") <> '')
);
--> statement-breakpoint
CREATE TABLE "follow_up" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "follow_up_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"engine_id" integer NOT NULL,
	"task" "task_kind" NOT NULL,
	"due_on" date,
	"after_id" integer,
	"finding_id" integer,
	"job_id" integer,
	"why" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"called_off_at" timestamp with time zone,
	"called_off_by" integer,
	"called_off_because" text,
	CONSTRAINT "follow_up_called_off" CHECK (("follow_up"."called_off_at" is null) = ("follow_up"."called_off_because" is null))
);
--> statement-breakpoint
CREATE TABLE "hold" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "hold_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"engine_id" integer NOT NULL,
	"finding_id" integer,
	"why" text NOT NULL,
	"checks" "task_kind"[] NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"put_by" integer,
	"released_at" timestamp with time zone,
	"released_by" integer,
	"released_because" text,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "hold_why" CHECK (btrim("hold"."why") <> ''),
	CONSTRAINT "hold_released" CHECK (("hold"."released_at" is null) = ("hold"."released_by" is null) and ("hold"."released_at" is null) = ("hold"."released_because" is null))
);
--> statement-breakpoint
CREATE TABLE "waste_entry" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "waste_entry_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"job_id" integer,
	"base_id" integer NOT NULL,
	"stream" "waste_stream" NOT NULL,
	"quantity" numeric(12, 2) NOT NULL,
	"measured" boolean DEFAULT true NOT NULL,
	"day" date NOT NULL,
	"person_id" integer,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"note" text,
	CONSTRAINT "waste_entry_some" CHECK ("waste_entry"."quantity" <> 0)
);
--> statement-breakpoint
ALTER TABLE "engine_model" ADD COLUMN "traits" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "job_task" ADD COLUMN "template_version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "service_entry" ADD COLUMN "minutes" numeric(6, 1);--> statement-breakpoint
ALTER TABLE "hire" ADD COLUMN "let_go_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "hire" ADD COLUMN "let_go_by" integer;--> statement-breakpoint
ALTER TABLE "snag" ADD COLUMN "symptom" text;--> statement-breakpoint
ALTER TABLE "job_entry" ADD CONSTRAINT "job_entry_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_entry" ADD CONSTRAINT "job_entry_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_entry" ADD CONSTRAINT "job_entry_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_entry" ADD CONSTRAINT "job_entry_against_job_entry_seq_fk" FOREIGN KEY ("against") REFERENCES "public"."job_entry"("seq") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_photo" ADD CONSTRAINT "job_photo_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "step_template" ADD CONSTRAINT "step_template_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "finding" ADD CONSTRAINT "finding_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "finding" ADD CONSTRAINT "finding_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "finding" ADD CONSTRAINT "finding_decided_by_person_id_fk" FOREIGN KEY ("decided_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "follow_up" ADD CONSTRAINT "follow_up_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "follow_up" ADD CONSTRAINT "follow_up_finding_id_finding_id_fk" FOREIGN KEY ("finding_id") REFERENCES "public"."finding"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "follow_up" ADD CONSTRAINT "follow_up_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "follow_up" ADD CONSTRAINT "follow_up_called_off_by_person_id_fk" FOREIGN KEY ("called_off_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "follow_up" ADD CONSTRAINT "follow_up_after_id_follow_up_id_fk" FOREIGN KEY ("after_id") REFERENCES "public"."follow_up"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hold" ADD CONSTRAINT "hold_engine_id_engine_id_fk" FOREIGN KEY ("engine_id") REFERENCES "public"."engine"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hold" ADD CONSTRAINT "hold_finding_id_finding_id_fk" FOREIGN KEY ("finding_id") REFERENCES "public"."finding"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hold" ADD CONSTRAINT "hold_put_by_person_id_fk" FOREIGN KEY ("put_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hold" ADD CONSTRAINT "hold_released_by_person_id_fk" FOREIGN KEY ("released_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "waste_entry" ADD CONSTRAINT "waste_entry_job_id_job_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."job"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "waste_entry" ADD CONSTRAINT "waste_entry_base_id_base_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."base"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "waste_entry" ADD CONSTRAINT "waste_entry_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "job_entry_of_job" ON "job_entry" USING btree ("job_id","seq");--> statement-breakpoint
CREATE INDEX "job_entry_of_engine" ON "job_entry" USING btree ("engine_id","seq") WHERE "job_entry"."engine_id" is not null;--> statement-breakpoint
CREATE INDEX "job_photo_job" ON "job_photo" USING btree ("job_id");--> statement-breakpoint
CREATE UNIQUE INDEX "finding_once" ON "finding" USING btree ("job_id","engine_id","code");--> statement-breakpoint
CREATE INDEX "finding_engine" ON "finding" USING btree ("engine_id","at");--> statement-breakpoint
CREATE INDEX "finding_open" ON "finding" USING btree ("engine_id") WHERE "finding"."state" = 'open';--> statement-breakpoint
CREATE INDEX "follow_up_engine" ON "follow_up" USING btree ("engine_id");--> statement-breakpoint
CREATE INDEX "hold_open" ON "hold" USING btree ("engine_id") WHERE "hold"."released_at" is null;--> statement-breakpoint
CREATE INDEX "waste_entry_base_day" ON "waste_entry" USING btree ("base_id","day");--> statement-breakpoint
CREATE INDEX "waste_entry_job" ON "waste_entry" USING btree ("job_id");--> statement-breakpoint
ALTER TABLE "hire" ADD CONSTRAINT "hire_let_go_by_person_id_fk" FOREIGN KEY ("let_go_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "service_entry" ADD CONSTRAINT "service_entry_minutes" CHECK ("service_entry"."minutes" > 0);--> statement-breakpoint
ALTER TABLE "hire" ADD CONSTRAINT "hire_let_go" CHECK (("hire"."let_go_at" is null) = ("hire"."let_go_by" is null));--> statement-breakpoint
CREATE TRIGGER job_entry_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON job_entry FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
--> statement-breakpoint
CREATE TRIGGER job_photo_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON job_photo FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
--> statement-breakpoint
CREATE TRIGGER step_template_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON step_template FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
--> statement-breakpoint
CREATE TRIGGER waste_entry_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON waste_entry FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
--> statement-breakpoint
-- What an engine must not go out for, and what is asked for besides its programme, is in the server's memory too.
CREATE TRIGGER hold_touch_in AFTER INSERT ON hold REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER hold_touch_up AFTER UPDATE ON hold REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER follow_up_touch_in AFTER INSERT ON follow_up REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER follow_up_touch_up AFTER UPDATE ON follow_up REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER finding_touch_in AFTER INSERT ON finding REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
CREATE TRIGGER finding_touch_up AFTER UPDATE ON finding REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION touch_by_engine_id();
--> statement-breakpoint
-- Every process tells its screens what changed; many alike in one transaction are told once.
CREATE FUNCTION tell_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('diurna', TG_ARGV[0] || ' ' || (to_jsonb(NEW) ->> TG_ARGV[1]));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER job_entry_told AFTER INSERT ON job_entry FOR EACH ROW EXECUTE FUNCTION tell_change('card', 'job_id');
--> statement-breakpoint
CREATE TRIGGER job_told AFTER INSERT OR UPDATE ON job FOR EACH ROW EXECUTE FUNCTION tell_change('job', 'id');
--> statement-breakpoint
CREATE TRIGGER finding_told AFTER INSERT OR UPDATE ON finding FOR EACH ROW EXECUTE FUNCTION tell_change('card', 'job_id');
--> statement-breakpoint
CREATE TRIGGER hold_told AFTER INSERT OR UPDATE ON hold FOR EACH ROW EXECUTE FUNCTION tell_change('engine', 'engine_id');
--> statement-breakpoint
CREATE TRIGGER follow_up_told AFTER INSERT OR UPDATE ON follow_up FOR EACH ROW EXECUTE FUNCTION tell_change('engine', 'engine_id');
--> statement-breakpoint
CREATE TRIGGER snag_told AFTER INSERT OR UPDATE ON snag FOR EACH ROW EXECUTE FUNCTION tell_change('snag', 'id');
--> statement-breakpoint
CREATE TRIGGER hire_let_go_told AFTER UPDATE OF let_go_at ON hire FOR EACH ROW EXECUTE FUNCTION tell_change('hire', 'id');
