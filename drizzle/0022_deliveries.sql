CREATE TABLE "delivered_document" (
	"delivery_id" integer NOT NULL,
	"path" text NOT NULL,
	"address" text NOT NULL,
	"state" text NOT NULL,
	"reason" jsonb,
	"changes" integer NOT NULL,
	"texts" json,
	"hash_before" text,
	"hash_after" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "delivered_document_delivery_id_path_pk" PRIMARY KEY("delivery_id","path")
);
--> statement-breakpoint
CREATE TABLE "prepared_document" (
	"collection_id" text NOT NULL,
	"path" text NOT NULL,
	"is_new" boolean DEFAULT false NOT NULL,
	"position" integer NOT NULL,
	"places" integer NOT NULL,
	"key" text NOT NULL,
	"due" text,
	"document" json,
	"changes" integer DEFAULT 0 NOT NULL,
	"waiting" integer DEFAULT 0 NOT NULL,
	"conflicts" integer DEFAULT 0 NOT NULL,
	"refusals" integer DEFAULT 0 NOT NULL,
	"aside" integer DEFAULT 0 NOT NULL,
	"is_left_out" boolean DEFAULT false NOT NULL,
	"hash_before" text,
	"hash_after" text,
	"compared_at" timestamp with time zone,
	CONSTRAINT "prepared_document_collection_id_path_pk" PRIMARY KEY("collection_id","path")
);
--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "target" text DEFAULT 'zip' NOT NULL;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "configuration" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "state" text DEFAULT 'done' NOT NULL;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "total" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "reason" jsonb;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "file_name" text;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "file_bytes" bigint;--> statement-breakpoint
ALTER TABLE "delivered_document" ADD CONSTRAINT "delivered_document_delivery_id_delivery_id_fk" FOREIGN KEY ("delivery_id") REFERENCES "public"."delivery"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "prepared_document" ADD CONSTRAINT "prepared_document_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "prepared_document_collection_id_is_new_position_index" ON "prepared_document" USING btree ("collection_id","is_new","position");