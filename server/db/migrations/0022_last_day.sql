-- expands: a table an older version does not know.
CREATE TABLE "watched_hour" (
	"hour" timestamp with time zone NOT NULL,
	"process" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"told" jsonb NOT NULL,
	CONSTRAINT "watched_hour_hour_process_pk" PRIMARY KEY("hour","process")
);
