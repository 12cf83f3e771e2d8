ALTER TABLE "page" ADD COLUMN "format" text DEFAULT 'html' NOT NULL;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "document" text;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "sort_key" text;