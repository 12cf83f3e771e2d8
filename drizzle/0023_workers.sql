CREATE TABLE "job_claim" (
	"job_id" text PRIMARY KEY NOT NULL,
	"process_id" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "lane_hold" (
	"collection_id" text NOT NULL,
	"lane" text NOT NULL,
	"process_id" text NOT NULL,
	CONSTRAINT "lane_hold_collection_id_lane_pk" PRIMARY KEY("collection_id","lane")
);
--> statement-breakpoint
CREATE TABLE "rate_limit" (
	"key" text PRIMARY KEY NOT NULL,
	"free_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "worker_process" (
	"id" text PRIMARY KEY NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "job_claim" ADD CONSTRAINT "job_claim_process_id_worker_process_id_fk" FOREIGN KEY ("process_id") REFERENCES "public"."worker_process"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "lane_hold" ADD CONSTRAINT "lane_hold_process_id_worker_process_id_fk" FOREIGN KEY ("process_id") REFERENCES "public"."worker_process"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "job_claim_process" ON "job_claim" USING btree ("process_id");--> statement-breakpoint
CREATE INDEX "lane_hold_process" ON "lane_hold" USING btree ("process_id");