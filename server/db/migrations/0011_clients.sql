CREATE TABLE "client_traffic" (
	"site_id" text NOT NULL,
	"hardware_address" "macaddr" NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"down_octets" bigint NOT NULL,
	"up_octets" bigint NOT NULL,
	CONSTRAINT "client_traffic_site_id_hardware_address_at_pk" PRIMARY KEY("site_id","hardware_address","at")
);
--> statement-breakpoint
CREATE TABLE "clients" (
	"site_id" text NOT NULL,
	"hardware_address" "macaddr" NOT NULL,
	"name" text,
	"is_shut" boolean DEFAULT false NOT NULL,
	"limit_kbps" integer,
	"device_id" text,
	"network" text,
	"address" "inet",
	"signal_dbm" integer,
	"joined_at" timestamp with time zone,
	"seen_at" timestamp with time zone,
	"down_octets" bigint DEFAULT 0 NOT NULL,
	"up_octets" bigint DEFAULT 0 NOT NULL,
	CONSTRAINT "clients_site_id_hardware_address_pk" PRIMARY KEY("site_id","hardware_address")
);
--> statement-breakpoint
ALTER TABLE "client_traffic" ADD CONSTRAINT "client_traffic_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "clients" ADD CONSTRAINT "clients_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "client_traffic_at" ON "client_traffic" USING btree ("at");