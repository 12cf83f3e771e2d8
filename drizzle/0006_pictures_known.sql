ALTER TABLE "appearance" ADD COLUMN "purpose_sure" real DEFAULT 0.5 NOT NULL;--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "seen_anew" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "kind" text;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "kind_sure" real DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "sight" json;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "likeness" json;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "family" integer;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "series" integer;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "series_size" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "series_rank" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "perused" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "text_inside" text;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "text_share" real DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "inside" json;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "file_words" text;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "file_words_from" text;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "rights" json;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "credit" json;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "urgency" real DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "urgent_because" text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX "picture_collection_id_urgency_id_index" ON "picture" USING btree ("collection_id","urgency" DESC NULLS LAST,"id");--> statement-breakpoint
CREATE INDEX "picture_collection_id_series_index" ON "picture" USING btree ("collection_id","series");--> statement-breakpoint
CREATE INDEX "picture_sha256_index" ON "picture" USING btree ("sha256");