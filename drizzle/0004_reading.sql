CREATE TABLE "file" (
	"sha256" text PRIMARY KEY NOT NULL,
	"pack" integer NOT NULL,
	"start" integer NOT NULL,
	"length" integer NOT NULL
);
--> statement-breakpoint
ALTER TABLE "appearance" ALTER COLUMN "reading" SET DATA TYPE json;--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "access" text;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "shows_key" text;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "apart" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "rendered" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "looked" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE "visit" SET "state" = 'waiting' WHERE "state" = 'reading';--> statement-breakpoint
-- Bytes are kept in packs from here on; what was kept as files of their own is read anew by the next survey.
UPDATE "page" SET "etag" = NULL, "last_modified" = NULL, "source" = '';--> statement-breakpoint
UPDATE "picture" SET "sha256" = NULL, "thumb" = NULL;--> statement-breakpoint
UPDATE "picture_source" SET "etag" = NULL, "last_modified" = NULL;
