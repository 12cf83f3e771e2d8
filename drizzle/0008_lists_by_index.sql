DROP INDEX "picture_collection_id_bytes_id_index";--> statement-breakpoint
CREATE INDEX "picture_weight_index" ON "picture" USING btree ("collection_id",coalesce("bytes", 0) desc nulls last,"id");--> statement-breakpoint
CREATE INDEX "wording_draft_index" ON "wording" USING btree ("appearance_id") WHERE state = 'draft';