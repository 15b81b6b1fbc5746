CREATE TABLE "prefixes" (
	"site_id" text NOT NULL,
	"entity_id" text NOT NULL,
	"kind" text NOT NULL,
	"name" text NOT NULL,
	"network" "cidr" NOT NULL
);
--> statement-breakpoint
ALTER TABLE "prefixes" ADD CONSTRAINT "prefixes_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "prefixes_site" ON "prefixes" USING btree ("site_id");--> statement-breakpoint
CREATE INDEX "prefixes_network" ON "prefixes" USING gist ("network" inet_ops);--> statement-breakpoint
INSERT INTO "prefixes" SELECT s.id, e.key, 'segment', e.value->>'name', (e.value->>'subnet')::cidr FROM "sites" s JOIN "revisions" r ON r.site_id = s.id AND r.number = s.head, jsonb_each(r.document->'segments') e WHERE e.value->>'subnet' IS NOT NULL;--> statement-breakpoint
INSERT INTO "prefixes" SELECT s.id, e.key, 'provider', 'LAN of ' || (e.value->>'name'), (e.value->'handOff'->>'providerLan')::cidr FROM "sites" s JOIN "revisions" r ON r.site_id = s.id AND r.number = s.head, jsonb_each(r.document->'uplinks') e WHERE e.value->'handOff'->>'providerLan' LIKE '%/%';
