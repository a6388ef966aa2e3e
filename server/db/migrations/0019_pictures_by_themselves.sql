CREATE TABLE "picture_upload" (
	"entry_id" uuid PRIMARY KEY NOT NULL,
	"type" text NOT NULL,
	"size" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "job_photo" ADD COLUMN "entry_id" uuid;--> statement-breakpoint
ALTER TABLE "picture_upload" ADD CONSTRAINT "picture_upload_entry_id_job_entry_id_fk" FOREIGN KEY ("entry_id") REFERENCES "public"."job_entry"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_photo" ADD CONSTRAINT "job_photo_entry_id_job_entry_id_fk" FOREIGN KEY ("entry_id") REFERENCES "public"."job_entry"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_photo" ADD CONSTRAINT "job_photo_of_entry" UNIQUE("entry_id");--> statement-breakpoint
CREATE TRIGGER job_photo_told AFTER INSERT ON job_photo FOR EACH ROW EXECUTE FUNCTION tell_change('card', 'job_id');
