CREATE TABLE "designs" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"place" text NOT NULL,
	"revision" integer NOT NULL,
	"document" json NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "revisions" (
	"design_id" text NOT NULL,
	"number" integer NOT NULL,
	"words" text NOT NULL,
	"document" json NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "revisions_design_id_number_pk" PRIMARY KEY("design_id","number")
);
--> statement-breakpoint
ALTER TABLE "revisions" ADD CONSTRAINT "revisions_design_id_designs_id_fk" FOREIGN KEY ("design_id") REFERENCES "public"."designs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "designs_updated" ON "designs" USING btree ("updated_at");