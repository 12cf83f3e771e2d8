CREATE TABLE "set_aside" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "set_aside_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"appearance_id" integer NOT NULL,
	"rule" text NOT NULL,
	"reason" text NOT NULL,
	"by" text NOT NULL,
	"basis" text NOT NULL,
	"act" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "place" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "target" text;--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "phrases" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "stale_rules" text[] DEFAULT '{}'::text[] NOT NULL;--> statement-breakpoint
ALTER TABLE "finding" ADD COLUMN "page_id" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "finding" ADD COLUMN "aside" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "description" text;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "headings" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "page" ADD COLUMN "reader" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "set_aside" ADD CONSTRAINT "set_aside_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "set_aside" ADD CONSTRAINT "set_aside_appearance_id_appearance_id_fk" FOREIGN KEY ("appearance_id") REFERENCES "public"."appearance"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "set_aside_appearance_id_rule_index" ON "set_aside" USING btree ("appearance_id","rule");--> statement-breakpoint
CREATE INDEX "set_aside_collection_id_act_index" ON "set_aside" USING btree ("collection_id","act");--> statement-breakpoint
-- Readings of before know nothing of these; the next survey reads their pages anew (`reader`).
UPDATE "appearance" SET "place" = coalesce("reading"->>'place', ''), "reading" = ("reading"::jsonb || '{"ownRole":null,"ariaHidden":false,"focusable":false,"strayAlt":null,"descriptions":[],"run":null,"heading":null,"fillsFigure":false}'::jsonb)::json;--> statement-breakpoint
UPDATE "finding" SET "page_id" = "appearance"."page_id" FROM "appearance" WHERE "appearance"."id" = "finding"."appearance_id";--> statement-breakpoint
UPDATE "page" SET "etag" = NULL, "last_modified" = NULL;
