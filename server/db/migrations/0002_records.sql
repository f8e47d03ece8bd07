CREATE TABLE "records" (
	"id" serial PRIMARY KEY NOT NULL,
	"design_id" text NOT NULL,
	"revision" integer NOT NULL,
	"kind" text NOT NULL,
	"title" text NOT NULL,
	"passed" integer NOT NULL,
	"of" integer NOT NULL,
	"body" json NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "records" ADD CONSTRAINT "records_design_id_designs_id_fk" FOREIGN KEY ("design_id") REFERENCES "public"."designs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "records_of_design" ON "records" USING btree ("design_id","id");