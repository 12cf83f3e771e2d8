CREATE TABLE "long_description" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "long_description_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"collection_id" text NOT NULL,
	"picture_id" integer NOT NULL,
	"text" text NOT NULL,
	"state" text NOT NULL,
	"act" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "long_description" text;--> statement-breakpoint
ALTER TABLE "long_description" ADD CONSTRAINT "long_description_collection_id_collection_id_fk" FOREIGN KEY ("collection_id") REFERENCES "public"."collection"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "long_description" ADD CONSTRAINT "long_description_picture_id_picture_id_fk" FOREIGN KEY ("picture_id") REFERENCES "public"."picture"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "long_description_picture_id_id_index" ON "long_description" USING btree ("picture_id","id");--> statement-breakpoint
CREATE INDEX "long_description_collection_id_act_index" ON "long_description" USING btree ("collection_id","act");