ALTER TABLE "appearance" ADD COLUMN "name" text;--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "region" text;--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "lang" text;--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "shown_width" integer;--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "area" real;--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "is_side_by_side" boolean DEFAULT false NOT NULL;--> statement-breakpoint
UPDATE "appearance" SET
	"name" = "reading"->'accessible'->>'name',
	"region" = "reading"->'context'->>'region',
	"lang" = "reading"->'context'->>'lang',
	"shown_width" = case when ("reading"->'layout'->>'width')::float8 < 2147483647 then ("reading"->'layout'->>'width')::float8::integer end,
	"area" = ("reading"->'layout'->>'width')::float8 * ("reading"->'layout'->>'height')::float8,
	"is_side_by_side" = coalesce("reading"->'context'->>'run' is not null or "place" like '%picture%'
		or json_array_length("reading"->'markup'->'candidates') > 0
		or "reading"->>'element' in ('chart', 'diagram', 'group') or "reading"->'context'->>'partOf' is not null, false);--> statement-breakpoint
-- What nothing is searched or sorted by is not sampled: each sample would be read and parsed whole.
ALTER TABLE "appearance" ALTER COLUMN "reading" SET STATISTICS 0, ALTER COLUMN "evidence" SET STATISTICS 0;--> statement-breakpoint
ALTER TABLE "picture" ALTER COLUMN "details" SET STATISTICS 0, ALTER COLUMN "fingerprint" SET STATISTICS 0, ALTER COLUMN "recognition" SET STATISTICS 0,
	ALTER COLUMN "urgency_reason" SET STATISTICS 0, ALTER COLUMN "search" SET STATISTICS 0;--> statement-breakpoint
ALTER TABLE "finding" ALTER COLUMN "message" SET STATISTICS 0, ALTER COLUMN "fixes" SET STATISTICS 0, ALTER COLUMN "also" SET STATISTICS 0;
