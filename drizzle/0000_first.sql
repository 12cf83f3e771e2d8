CREATE TABLE "appearance" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "appearance_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"page_id" integer NOT NULL,
	"picture_id" integer NOT NULL,
	"identity" text NOT NULL,
	"position" integer NOT NULL,
	"reading" jsonb NOT NULL,
	"state" text NOT NULL,
	"words_key" text,
	"purpose" text NOT NULL,
	"purpose_settled" boolean DEFAULT false NOT NULL,
	"evidence" jsonb NOT NULL,
	"words" text,
	"survey_id" integer NOT NULL,
	"gone" boolean DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE TABLE "collection" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"root" text NOT NULL,
	"max_pages" integer NOT NULL,
	"max_depth" integer NOT NULL,
	"style" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "delivery" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "delivery_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"pages" integer NOT NULL,
	"changes" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "finding" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "finding_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"picture_id" integer NOT NULL,
	"appearance_id" integer NOT NULL,
	"rule" text NOT NULL,
	"outcome" text NOT NULL,
	"message" text NOT NULL,
	"span_start" integer,
	"span_end" integer,
	"mends" jsonb DEFAULT '[]'::jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "page" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "page_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"path" text NOT NULL,
	"title" text NOT NULL,
	"lang" text,
	"charset" text NOT NULL,
	"transport" text,
	"source" text NOT NULL,
	"survey_id" integer NOT NULL,
	"gone" boolean DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE TABLE "picture" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "picture_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"key" text NOT NULL,
	"sha256" text,
	"type" text,
	"bytes" integer,
	"width" integer,
	"height" integer,
	"src" text,
	"broken" text,
	"unread" text,
	"lighter" integer,
	"colours" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"thumb" text,
	"reach" integer DEFAULT 0 NOT NULL,
	"appearances" integer DEFAULT 0 NOT NULL,
	"said" integer DEFAULT 0 NOT NULL,
	"silent" integer DEFAULT 0 NOT NULL,
	"unsaid" integer DEFAULT 0 NOT NULL,
	"drafts" integer DEFAULT 0 NOT NULL,
	"worst" integer DEFAULT 3 NOT NULL,
	"rules" text[] DEFAULT '{}'::text[] NOT NULL,
	"length" integer DEFAULT 0 NOT NULL,
	"search" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "picture_source" (
	"collection_id" text NOT NULL,
	"address" text NOT NULL,
	"picture_id" integer NOT NULL,
	CONSTRAINT "picture_source_collection_id_address_pk" PRIMARY KEY("collection_id","address")
);
--> statement-breakpoint
CREATE TABLE "survey" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "survey_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"state" text NOT NULL,
	"phase" text DEFAULT 'gathering' NOT NULL,
	"message" text,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "visit" (
	"survey_id" integer NOT NULL,
	"seq" integer GENERATED ALWAYS AS IDENTITY (sequence name "visit_seq_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"address" text NOT NULL,
	"kind" text NOT NULL,
	"depth" integer DEFAULT 0 NOT NULL,
	"state" text NOT NULL,
	"reason" text,
	CONSTRAINT "visit_survey_id_kind_address_pk" PRIMARY KEY("survey_id","kind","address")
);
--> statement-breakpoint
CREATE TABLE "wording" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "wording_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"appearance_id" integer NOT NULL,
	"text" text,
	"by" text NOT NULL,
	"state" text NOT NULL,
	"act" text NOT NULL,
	"evidence" jsonb,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "appearance" ADD CONSTRAINT "appearance_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "appearance" ADD CONSTRAINT "appearance_page_id_page_id_fk" FOREIGN KEY ("page_id") REFERENCES "public"."page"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "appearance" ADD CONSTRAINT "appearance_picture_id_picture_id_fk" FOREIGN KEY ("picture_id") REFERENCES "public"."picture"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "delivery" ADD CONSTRAINT "delivery_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "finding" ADD CONSTRAINT "finding_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "finding" ADD CONSTRAINT "finding_picture_id_picture_id_fk" FOREIGN KEY ("picture_id") REFERENCES "public"."picture"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "finding" ADD CONSTRAINT "finding_appearance_id_appearance_id_fk" FOREIGN KEY ("appearance_id") REFERENCES "public"."appearance"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "page" ADD CONSTRAINT "page_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "picture" ADD CONSTRAINT "picture_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "picture_source" ADD CONSTRAINT "picture_source_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "picture_source" ADD CONSTRAINT "picture_source_picture_id_picture_id_fk" FOREIGN KEY ("picture_id") REFERENCES "public"."picture"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "survey" ADD CONSTRAINT "survey_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "visit" ADD CONSTRAINT "visit_survey_id_survey_id_fk" FOREIGN KEY ("survey_id") REFERENCES "public"."survey"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "wording" ADD CONSTRAINT "wording_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "wording" ADD CONSTRAINT "wording_appearance_id_appearance_id_fk" FOREIGN KEY ("appearance_id") REFERENCES "public"."appearance"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "appearance_collection_id_identity_index" ON "appearance" USING btree ("collection_id","identity");--> statement-breakpoint
CREATE INDEX "appearance_picture_id_index" ON "appearance" USING btree ("picture_id");--> statement-breakpoint
CREATE INDEX "appearance_page_id_position_index" ON "appearance" USING btree ("page_id","position");--> statement-breakpoint
CREATE INDEX "appearance_collection_id_words_key_index" ON "appearance" USING btree ("collection_id","words_key");--> statement-breakpoint
CREATE INDEX "delivery_collection_id_index" ON "delivery" USING btree ("collection_id");--> statement-breakpoint
CREATE INDEX "finding_picture_id_index" ON "finding" USING btree ("picture_id");--> statement-breakpoint
CREATE INDEX "finding_appearance_id_index" ON "finding" USING btree ("appearance_id");--> statement-breakpoint
CREATE INDEX "finding_collection_id_rule_index" ON "finding" USING btree ("collection_id","rule");--> statement-breakpoint
CREATE UNIQUE INDEX "page_collection_id_path_index" ON "page" USING btree ("collection_id","path");--> statement-breakpoint
CREATE UNIQUE INDEX "picture_collection_id_key_index" ON "picture" USING btree ("collection_id","key");--> statement-breakpoint
CREATE INDEX "picture_collection_id_reach_id_index" ON "picture" USING btree ("collection_id","reach" DESC NULLS LAST,"id");--> statement-breakpoint
CREATE INDEX "picture_collection_id_bytes_id_index" ON "picture" USING btree ("collection_id","bytes" DESC NULLS LAST,"id");--> statement-breakpoint
CREATE INDEX "picture_collection_id_length_id_index" ON "picture" USING btree ("collection_id","length" DESC NULLS LAST,"id");--> statement-breakpoint
CREATE INDEX "picture_rules_index" ON "picture" USING gin ("rules");--> statement-breakpoint
CREATE INDEX "picture_source_picture_id_index" ON "picture_source" USING btree ("picture_id");--> statement-breakpoint
CREATE INDEX "survey_collection_id_index" ON "survey" USING btree ("collection_id");--> statement-breakpoint
CREATE INDEX "visit_survey_id_kind_state_seq_index" ON "visit" USING btree ("survey_id","kind","state","seq");--> statement-breakpoint
CREATE INDEX "wording_appearance_id_id_index" ON "wording" USING btree ("appearance_id","id");--> statement-breakpoint
CREATE INDEX "wording_collection_id_act_index" ON "wording" USING btree ("collection_id","act");