CREATE TABLE "conflict" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "conflict_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"appearance_id" integer NOT NULL,
	"kind" text NOT NULL,
	"first" text,
	"theirs" text,
	"ours" text,
	"act" text,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"settled_at" timestamp with time zone,
	"choice" text,
	"chosen_act" text
);
--> statement-breakpoint
DROP INDEX "appearance_collection_id_words_key_index";--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "version" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "revision" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "survey" ADD COLUMN "starts" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "survey" ADD COLUMN "reading" text[] DEFAULT '{}'::text[] NOT NULL;--> statement-breakpoint
ALTER TABLE "conflict" ADD CONSTRAINT "conflict_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "conflict" ADD CONSTRAINT "conflict_appearance_id_appearance_id_fk" FOREIGN KEY ("appearance_id") REFERENCES "public"."appearance"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "conflict_collection_id_index" ON "conflict" USING btree ("collection_id");--> statement-breakpoint
CREATE UNIQUE INDEX "conflict_open_index" ON "conflict" USING btree ("appearance_id") WHERE settled_at is null;--> statement-breakpoint
CREATE INDEX "appearance_words_index" ON "appearance" USING btree ("collection_id",md5("words_key"));