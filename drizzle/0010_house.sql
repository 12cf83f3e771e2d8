ALTER TABLE "page" RENAME COLUMN "apart" TO "page_pictures";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "looked" TO "analysis_version";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "sight" TO "details";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "likeness" TO "fingerprint";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "family" TO "duplicate_group";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "series" TO "similar_group";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "series_size" TO "similar_count";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "series_rank" TO "similar_rank";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "perused" TO "recognition_version";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "text_inside" TO "recognised_text";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "inside" TO "recognition";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "urgent_because" TO "urgency_reason";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "said" TO "described";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "silent" TO "decorative";--> statement-breakpoint
ALTER TABLE "picture" RENAME COLUMN "unsaid" TO "missing";--> statement-breakpoint
ALTER TABLE "finding" RENAME COLUMN "mends" TO "fixes";--> statement-breakpoint
ALTER TABLE "finding" RENAME COLUMN "aside" TO "ignored";--> statement-breakpoint
ALTER TABLE "set_aside" RENAME TO "ignored_finding";--> statement-breakpoint
ALTER TABLE "ignored_finding" RENAME CONSTRAINT "set_aside_collection_id_collection_id_fk" TO "ignored_finding_collection_id_collection_id_fk";--> statement-breakpoint
ALTER TABLE "ignored_finding" RENAME CONSTRAINT "set_aside_appearance_id_appearance_id_fk" TO "ignored_finding_appearance_id_appearance_id_fk";--> statement-breakpoint
ALTER INDEX "picture_collection_id_series_index" RENAME TO "picture_collection_id_similar_group_index";--> statement-breakpoint
ALTER INDEX "set_aside_appearance_id_rule_index" RENAME TO "ignored_finding_appearance_id_rule_index";--> statement-breakpoint
ALTER INDEX "set_aside_collection_id_act_index" RENAME TO "ignored_finding_collection_id_act_index";--> statement-breakpoint
UPDATE "picture" SET "details" = (("details"::jsonb - 'because') || jsonb_build_object('kindReasons', "details"::jsonb->'because'))::json
  WHERE "details" IS NOT NULL;--> statement-breakpoint
UPDATE "survey" SET "summary" = ("summary" - '{said,silent,unsaid}'::text[]) || jsonb_build_object(
    'described', "summary"->'said', 'decorative', "summary"->'silent', 'missing', "summary"->'unsaid')
  WHERE "summary" IS NOT NULL;--> statement-breakpoint
UPDATE "appearance" SET
  "state" = CASE "state" WHEN 'said' THEN 'described' WHEN 'silent' THEN 'decorative' ELSE 'missing' END,
  "reading" = json_build_object(
    'order', r->'order',
    'element', r->'element',
    'state', CASE r->>'state' WHEN 'said' THEN 'described' WHEN 'silent' THEN 'decorative' ELSE 'missing' END,
    'markup', json_build_object(
      'src', r->'src', 'sheet', r->'sheet', 'lazy', coalesce(r->'lazy', 'false'), 'candidates', coalesce(r->'candidates', '[]'),
      'svg', r->'markup', 'alt', r->'alt', 'title', r->'title', 'ariaLabel', r->'ariaLabel', 'ownRole', r->'ownRole',
      'ariaHidden', coalesce(r->'ariaHidden', 'false'), 'focusable', coalesce(r->'focusable', 'false'),
      'strayAlt', r->'strayAlt', 'map', r->'map', 'templated', coalesce(r->'templated', 'false')),
    'accessible', json_build_object(
      'role', r->'role', 'name', coalesce(r->>'name', ''), 'nameSource', r->'nameSource', 'hidden', r->'hidden',
      'ignored', coalesce(r->'ignored', 'false'), 'descriptions', coalesce(r->'descriptions', '[]')),
    'context', json_build_object(
      'lang', r->'lang', 'headings', coalesce(r->'headings', '[]'), 'before', coalesce(r->>'before', ''),
      'after', coalesce(r->>'after', ''), 'caption', r->'caption', 'nextHeading', r->'nextHeading', 'control', r->'control',
      'run', r->'run', 'heading', r->'heading', 'fillsFigure', coalesce(r->'fillsFigure', 'false'),
      'place', coalesce(r->>'place', ''), 'region', r->'region'),
    'layout', json_build_object('width', r->'shownWidth', 'height', r->'shownHeight', 'fold', r->'fold'),
    'location', CASE r->>'origin' WHEN 'script' THEN json_build_object('kind', 'script') ELSE json_build_object(
      'kind', 'html', 'start', r->'start', 'end', r->'end', 'line', r->'line', 'column', r->'column') END)
FROM (SELECT "id" AS was, "reading"::jsonb AS r FROM "appearance") AS old WHERE "appearance"."id" = old.was;--> statement-breakpoint
CREATE FUNCTION pg_temp.rule_id(id text) RETURNS text LANGUAGE sql IMMUTABLE AS $$
  SELECT coalesce('{"silent-but-telling": "empty-but-informative", "background-telling": "informative-background",
    "target-unsaid": "target-unnamed", "text-unsaid": "text-not-in-alt", "unshown-words": "stored-words-unused",
    "lost-long-description": "broken-long-description", "markup-leak": "markup-in-text", "borrowed-host": "hotlinked",
    "decoration-described": "decoration-with-text"}'::jsonb->>id, id)
$$;--> statement-breakpoint
UPDATE "finding" SET "rule" = pg_temp.rule_id("rule"), "fixes" = replace("fixes"::text, '"make silent"', '"mark decorative"')::jsonb;--> statement-breakpoint
UPDATE "ignored_finding" SET "rule" = pg_temp.rule_id("rule");--> statement-breakpoint
UPDATE "picture" SET "rules" = array(SELECT pg_temp.rule_id(x) FROM unnest("rules") AS x) WHERE "rules" <> '{}';--> statement-breakpoint
UPDATE "collection" SET
  "style" = coalesce((SELECT jsonb_object_agg(pg_temp.rule_id(key), value) FROM jsonb_each("style")), '{}');--> statement-breakpoint
ALTER TABLE "collection" DROP COLUMN "stale_rules";--> statement-breakpoint
ALTER TABLE "collection" DROP COLUMN "seen_anew";--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "audit_version" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "changes" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE TABLE "job_progress" (
	"kind" text NOT NULL,
	"collection_id" text NOT NULL,
	"state" text NOT NULL,
	"share" real,
	"detail" json,
	"error" text,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "job_progress_kind_collection_id_pk" PRIMARY KEY("kind","collection_id")
);
--> statement-breakpoint
ALTER TABLE "job_progress" ADD CONSTRAINT "job_progress_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "finding" ADD COLUMN "also" jsonb DEFAULT '[]'::jsonb NOT NULL;
