CREATE TABLE "act_step" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "act_step_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"act" text NOT NULL,
	"kind" text NOT NULL,
	"target" integer NOT NULL,
	"before" jsonb,
	"after" jsonb,
	"undone" boolean DEFAULT false NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "bulk_act" (
	"act" text NOT NULL,
	"collection_id" text NOT NULL,
	"work" jsonb NOT NULL,
	"ids" integer[] NOT NULL,
	"done" integer DEFAULT 0 NOT NULL,
	"places" integer DEFAULT 0 NOT NULL,
	"state" text DEFAULT 'running' NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "bulk_act_collection_id_act_pk" PRIMARY KEY("collection_id","act")
);
--> statement-breakpoint
CREATE TABLE "saved_view" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "saved_view_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"name" text NOT NULL,
	"query" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "left_out" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "brief" json;--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "brief_of" text;--> statement-breakpoint
ALTER TABLE "ignored_finding" ADD COLUMN "undone" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "ignored_finding" ADD COLUMN "undone_act" text;--> statement-breakpoint
ALTER TABLE "long_description" ADD COLUMN "redoable" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "purposes" text[] DEFAULT '{}'::text[] NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "sections" text[] DEFAULT '{}'::text[] NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "languages" text[] DEFAULT '{}'::text[] NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "writers" text[] DEFAULT '{}'::text[] NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "host" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "shown_width" integer;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "first_survey_id" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "changed_survey_id" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "wording" ADD COLUMN "closed_act" text;--> statement-breakpoint
ALTER TABLE "wording" ADD COLUMN "closed_from" text;--> statement-breakpoint
ALTER TABLE "act_step" ADD CONSTRAINT "act_step_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bulk_act" ADD CONSTRAINT "bulk_act_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "saved_view" ADD CONSTRAINT "saved_view_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "act_step_collection_id_act_index" ON "act_step" USING btree ("collection_id","act");--> statement-breakpoint
CREATE UNIQUE INDEX "saved_view_collection_id_name_index" ON "saved_view" USING btree ("collection_id","name");--> statement-breakpoint
CREATE INDEX "wording_closed_index" ON "wording" USING btree ("collection_id","closed_act") WHERE closed_act is not null;