CREATE TABLE "client_hours" (
	"site_id" text NOT NULL,
	"hour" integer NOT NULL,
	"clients" real NOT NULL,
	"samples" integer NOT NULL,
	CONSTRAINT "client_hours_site_id_hour_pk" PRIMARY KEY("site_id","hour")
);
--> statement-breakpoint
ALTER TABLE "client_hours" ADD CONSTRAINT "client_hours_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;