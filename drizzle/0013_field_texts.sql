CREATE TABLE "field_text" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "field_text_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"field" text NOT NULL,
	"picture_id" integer NOT NULL,
	"appearance_id" integer,
	"text" text,
	"by" text DEFAULT 'person' NOT NULL,
	"state" text NOT NULL,
	"act" text NOT NULL,
	"redoable" boolean DEFAULT false NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
DROP INDEX "appearance_worded_index";--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "title" text;--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "caption" text;--> statement-breakpoint
ALTER TABLE "appearance" ADD COLUMN "credit_line" boolean;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "long_placement" jsonb;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "file_name" text;--> statement-breakpoint
ALTER TABLE "field_text" ADD CONSTRAINT "field_text_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "field_text" ADD CONSTRAINT "field_text_picture_id_picture_id_fk" FOREIGN KEY ("picture_id") REFERENCES "public"."picture"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "field_text" ADD CONSTRAINT "field_text_appearance_id_appearance_id_fk" FOREIGN KEY ("appearance_id") REFERENCES "public"."appearance"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "field_text_picture_id_field_id_index" ON "field_text" USING btree ("picture_id","field","id");--> statement-breakpoint
CREATE INDEX "field_text_appearance_id_index" ON "field_text" USING btree ("appearance_id");--> statement-breakpoint
CREATE INDEX "field_text_collection_id_act_index" ON "field_text" USING btree ("collection_id","act");--> statement-breakpoint
CREATE INDEX "appearance_worded_index" ON "appearance" USING btree ("collection_id") WHERE words is not null or title is not null or caption is not null or credit_line is not null;