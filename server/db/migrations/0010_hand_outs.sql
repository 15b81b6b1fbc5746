CREATE TABLE "hand_outs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"token_hash" text NOT NULL,
	"site_id" text NOT NULL,
	"peer_id" text NOT NULL,
	"name" text NOT NULL,
	"made_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	"opened_at" timestamp with time zone,
	"sealed" "bytea",
	CONSTRAINT "hand_outs_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
ALTER TABLE "hand_outs" ADD CONSTRAINT "hand_outs_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_outs" ADD CONSTRAINT "hand_outs_made_by_accounts_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."accounts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "hand_outs_site" ON "hand_outs" USING btree ("site_id","created_at");