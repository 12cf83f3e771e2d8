ALTER TABLE "collection" ADD COLUMN "vocabulary" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "common_titles" jsonb DEFAULT '[]'::jsonb NOT NULL;