CREATE TABLE "backups" (
	"site_id" text NOT NULL,
	"device_id" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"digest" text NOT NULL,
	"firmware" text,
	CONSTRAINT "backups_site_id_device_id_at_pk" PRIMARY KEY("site_id","device_id","at")
);
--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "backup_every_days" integer;--> statement-breakpoint
ALTER TABLE "backups" ADD CONSTRAINT "backups_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "backups_digest" ON "backups" USING btree ("site_id","digest");