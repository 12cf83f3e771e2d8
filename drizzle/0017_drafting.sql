CREATE TABLE "draft_prompt" (
	"collection_id" text NOT NULL,
	"version" integer NOT NULL,
	"instructions" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "draft_prompt_collection_id_version_pk" PRIMARY KEY("collection_id","version")
);
--> statement-breakpoint
CREATE TABLE "drafting_call" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "drafting_call_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"service_id" integer NOT NULL,
	"collection_id" text,
	"round_id" integer,
	"tokens_in" integer NOT NULL,
	"tokens_out" integer NOT NULL,
	"cost" double precision NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "drafting_consent" (
	"collection_id" text NOT NULL,
	"host" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "drafting_consent_collection_id_host_pk" PRIMARY KEY("collection_id","host")
);
--> statement-breakpoint
CREATE TABLE "drafting_service" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "drafting_service_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"address" text NOT NULL,
	"model" text NOT NULL,
	"key" text,
	"price_in" double precision NOT NULL,
	"price_out" double precision NOT NULL,
	"currency" text NOT NULL,
	"max_side" integer NOT NULL,
	"at_once" integer NOT NULL,
	"per_minute" integer NOT NULL,
	"timeout_seconds" integer NOT NULL,
	"monthly_budget" double precision,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "drafting_service_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "round" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "round_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"act" text NOT NULL,
	"order" jsonb NOT NULL,
	"service_id" integer,
	"drafter" text,
	"model" text,
	"currency" text,
	"state" text DEFAULT 'running' NOT NULL,
	"reason" jsonb,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "round_item" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "round_item_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"round_id" integer NOT NULL,
	"appearance_ids" integer[] NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"rank" integer DEFAULT 0 NOT NULL,
	"retries" integer DEFAULT 0 NOT NULL,
	"reason" jsonb,
	"cost" double precision DEFAULT 0 NOT NULL,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "collection" ADD COLUMN "drafting" jsonb DEFAULT '{"newPictures":null}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "wording" ADD COLUMN "draft" jsonb;--> statement-breakpoint
ALTER TABLE "wording" ADD COLUMN "grade" real;--> statement-breakpoint
ALTER TABLE "wording" ADD COLUMN "round_id" integer;--> statement-breakpoint
ALTER TABLE "draft_prompt" ADD CONSTRAINT "draft_prompt_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "drafting_call" ADD CONSTRAINT "drafting_call_service_id_drafting_service_id_fk" FOREIGN KEY ("service_id") REFERENCES "public"."drafting_service"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "drafting_call" ADD CONSTRAINT "drafting_call_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "drafting_consent" ADD CONSTRAINT "drafting_consent_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "round" ADD CONSTRAINT "round_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "round" ADD CONSTRAINT "round_service_id_drafting_service_id_fk" FOREIGN KEY ("service_id") REFERENCES "public"."drafting_service"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "round_item" ADD CONSTRAINT "round_item_round_id_round_id_fk" FOREIGN KEY ("round_id") REFERENCES "public"."round"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "drafting_call_service_id_at_index" ON "drafting_call" USING btree ("service_id","at");--> statement-breakpoint
CREATE INDEX "drafting_call_round_id_index" ON "drafting_call" USING btree ("round_id");--> statement-breakpoint
CREATE INDEX "round_collection_id_index" ON "round" USING btree ("collection_id");--> statement-breakpoint
CREATE INDEX "round_item_round_id_state_rank_id_index" ON "round_item" USING btree ("round_id","state","rank","id");--> statement-breakpoint
CREATE INDEX "wording_round_index" ON "wording" USING btree ("round_id") WHERE round_id is not null;--> statement-breakpoint
UPDATE "wording" SET "grade" = 0.5, "draft" = jsonb_build_object('evidence', coalesce("evidence"->'from', '[]'::jsonb), 'missing', "evidence"->'missing', 'confidence', 0.5, 'uncertain', '[]'::jsonb, 'other', '{}'::jsonb, 'origin', '{"service":null,"model":null,"prompt":null,"cost":0,"currency":null}'::jsonb, 'faults', '[]'::jsonb, 'doubtful', false, 'alternatives', '[]'::jsonb) WHERE "evidence" IS NOT NULL;--> statement-breakpoint
ALTER TABLE "wording" DROP COLUMN "evidence";