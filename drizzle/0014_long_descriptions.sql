INSERT INTO "field_text" ("collection_id", "field", "picture_id", "text", "state", "act", "redoable", "at")
  SELECT "collection_id", 'long-description', "picture_id", "text", "state", "act", "redoable", "at" FROM "long_description" ORDER BY "id";--> statement-breakpoint
DROP TABLE "long_description" CASCADE;
