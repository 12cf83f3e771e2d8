ALTER TABLE "survey" ALTER COLUMN "message" SET DATA TYPE jsonb USING CASE WHEN "message" IS NOT NULL THEN jsonb_build_object('id', 'plain', 'values', jsonb_build_object('text', "message")) END;--> statement-breakpoint
ALTER TABLE "visit" ALTER COLUMN "reason" SET DATA TYPE jsonb USING CASE WHEN "reason" IS NOT NULL THEN jsonb_build_object('id', 'plain', 'values', jsonb_build_object('text', "reason")) END;--> statement-breakpoint
ALTER TABLE "picture" ALTER COLUMN "broken" SET DATA TYPE jsonb USING CASE WHEN "broken" IS NOT NULL THEN jsonb_build_object('id', 'plain', 'values', jsonb_build_object('text', "broken")) END;--> statement-breakpoint
ALTER TABLE "picture" ALTER COLUMN "unread" SET DATA TYPE jsonb USING CASE WHEN "unread" IS NOT NULL THEN jsonb_build_object('id', 'plain', 'values', jsonb_build_object('text', "unread")) END;--> statement-breakpoint
ALTER TABLE "picture" ALTER COLUMN "urgency_reason" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "picture" ALTER COLUMN "urgency_reason" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ALTER COLUMN "urgency_reason" SET DATA TYPE jsonb USING CASE WHEN "urgency_reason" <> '' THEN jsonb_build_object('id', 'plain', 'values', jsonb_build_object('text', "urgency_reason")) END;--> statement-breakpoint
ALTER TABLE "finding" ALTER COLUMN "message" SET DATA TYPE jsonb USING jsonb_build_object('id', 'plain', 'values', jsonb_build_object('text', "message"));--> statement-breakpoint
UPDATE "finding" SET "also" = (
    SELECT jsonb_agg(jsonb_build_object('rule', a->'rule', 'message', jsonb_build_object('id', 'plain', 'values', jsonb_build_object('text', a->'message'))) ORDER BY i)
    FROM jsonb_array_elements("also") WITH ORDINALITY AS t(a, i))
  WHERE jsonb_array_length("also") > 0;--> statement-breakpoint
UPDATE "appearance" SET "evidence" = (
    SELECT jsonb_agg(jsonb_build_object('id', 'plain', 'values', jsonb_build_object('text', e)) ORDER BY i)
    FROM jsonb_array_elements("evidence") WITH ORDINALITY AS t(e, i))
  WHERE jsonb_array_length("evidence") > 0;--> statement-breakpoint
UPDATE "picture" SET "details" = jsonb_set("details"::jsonb, '{kindReasons}', (
    SELECT coalesce(jsonb_agg(jsonb_build_object('id', 'plain', 'values', jsonb_build_object('text', e)) ORDER BY i), '[]')
    FROM jsonb_array_elements("details"::jsonb->'kindReasons') WITH ORDINALITY AS t(e, i)))::json
  WHERE "details"::jsonb ? 'kindReasons';--> statement-breakpoint
UPDATE "wording" SET "evidence" = jsonb_set("evidence", '{missing}', jsonb_build_object('id', 'plain', 'values', jsonb_build_object('text', "evidence"->'missing')))
  WHERE jsonb_typeof("evidence"->'missing') = 'string';--> statement-breakpoint
UPDATE "wording" SET "state" = 'rejected' WHERE "state" = 'refused';
