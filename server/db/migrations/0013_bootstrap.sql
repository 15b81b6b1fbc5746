CREATE TABLE "makers" (
	"site_id" text NOT NULL,
	"digest" text NOT NULL,
	"certificate" "bytea" NOT NULL,
	CONSTRAINT "makers_site_id_digest_pk" PRIMARY KEY("site_id","digest")
);
--> statement-breakpoint
CREATE TABLE "owners" (
	"site_id" text PRIMARY KEY NOT NULL,
	"certificate" "bytea" NOT NULL,
	"key" "bytea" NOT NULL
);
--> statement-breakpoint
CREATE TABLE "vouchers" (
	"site_id" text NOT NULL,
	"serial" text NOT NULL,
	"voucher" "bytea" NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	"expires_at" timestamp with time zone,
	CONSTRAINT "vouchers_site_id_serial_pk" PRIMARY KEY("site_id","serial")
);
--> statement-breakpoint
ALTER TABLE "makers" ADD CONSTRAINT "makers_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "owners" ADD CONSTRAINT "owners_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "vouchers" ADD CONSTRAINT "vouchers_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "vouchers_serial" ON "vouchers" USING btree ("serial");