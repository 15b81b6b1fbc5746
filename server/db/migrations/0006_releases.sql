CREATE TABLE "documents" (
	"site_id" text NOT NULL,
	"digest" text NOT NULL,
	"sealed" "bytea" NOT NULL,
	CONSTRAINT "documents_site_id_digest_pk" PRIMARY KEY("site_id","digest")
);
--> statement-breakpoint
CREATE TABLE "releases" (
	"site_id" text NOT NULL,
	"number" integer NOT NULL,
	"revision" integer NOT NULL,
	"state" text NOT NULL,
	"why" text DEFAULT '' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"account_id" uuid,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone,
	"waves" integer DEFAULT 0 NOT NULL,
	"wave" integer DEFAULT 0 NOT NULL,
	"opened_at" timestamp with time zone,
	"apply_at" timestamp with time zone,
	"times" jsonb NOT NULL,
	"moved" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"witnesses" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"keys" "bytea" NOT NULL,
	CONSTRAINT "releases_site_id_number_pk" PRIMARY KEY("site_id","number")
);
--> statement-breakpoint
CREATE TABLE "targets" (
	"site_id" text NOT NULL,
	"device_id" text NOT NULL,
	"release" integer NOT NULL,
	"wave" integer DEFAULT 0 NOT NULL,
	"digest" text NOT NULL,
	"firmware" text NOT NULL,
	"profile_id" text NOT NULL,
	"state" text NOT NULL,
	"held_at" timestamp with time zone,
	"applied_at" timestamp with time zone,
	"went_back" boolean DEFAULT false NOT NULL,
	"trial_seconds" integer NOT NULL,
	"before" jsonb,
	CONSTRAINT "targets_site_id_device_id_pk" PRIMARY KEY("site_id","device_id")
);
--> statement-breakpoint
ALTER TABLE "evidence" ADD COLUMN "release" integer;--> statement-breakpoint
ALTER TABLE "documents" ADD CONSTRAINT "documents_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "releases" ADD CONSTRAINT "releases_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "releases" ADD CONSTRAINT "releases_account_id_accounts_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."accounts"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "targets" ADD CONSTRAINT "targets_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;