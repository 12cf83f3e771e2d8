ALTER TABLE "collection" ADD COLUMN "scope" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "etag" text;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "last_modified" text;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "links" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "pictures" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "same_key" text;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "directives" text[] DEFAULT '{}'::text[] NOT NULL;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "first_survey_id" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "changed_survey_id" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "picture_source" ADD COLUMN "etag" text;--> statement-breakpoint
ALTER TABLE "picture_source" ADD COLUMN "last_modified" text;--> statement-breakpoint
ALTER TABLE "survey" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "visit" ADD COLUMN "cause" text;--> statement-breakpoint
ALTER TABLE "visit" ADD COLUMN "status" integer;--> statement-breakpoint
ALTER TABLE "visit" ADD COLUMN "found_on" text;--> statement-breakpoint
ALTER TABLE "visit" ADD COLUMN "settled_at" timestamp with time zone;--> statement-breakpoint
CREATE INDEX "page_collection_id_same_key_index" ON "page" USING btree ("collection_id","same_key");