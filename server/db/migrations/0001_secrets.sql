CREATE TABLE "secrets" (
	"design_id" text NOT NULL,
	"link_id" text NOT NULL,
	"value" text NOT NULL,
	"set_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "secrets_design_id_link_id_pk" PRIMARY KEY("design_id","link_id")
);
--> statement-breakpoint
ALTER TABLE "secrets" ADD CONSTRAINT "secrets_design_id_designs_id_fk" FOREIGN KEY ("design_id") REFERENCES "public"."designs"("id") ON DELETE cascade ON UPDATE no action;