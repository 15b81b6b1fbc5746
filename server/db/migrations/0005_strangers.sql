CREATE TABLE "callers" (
	"serial" text NOT NULL,
	"claim_secret_digest" text NOT NULL,
	"hardware_address" "macaddr" NOT NULL,
	"model" text NOT NULL,
	"firmware" text NOT NULL,
	"address" "inet" NOT NULL,
	"first_heard_at" timestamp with time zone DEFAULT now() NOT NULL,
	"last_heard_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "callers_serial_claim_secret_digest_pk" PRIMARY KEY("serial","claim_secret_digest")
);
--> statement-breakpoint
ALTER TABLE "foreign_devices" DISABLE ROW LEVEL SECURITY;--> statement-breakpoint
DROP TABLE "foreign_devices" CASCADE;--> statement-breakpoint
ALTER TABLE "evidence" DROP CONSTRAINT "evidence_pkey";--> statement-breakpoint
ALTER TABLE "evidence" ADD CONSTRAINT "evidence_site_id_id_pk" PRIMARY KEY("site_id","id");--> statement-breakpoint
ALTER TABLE "evidence" ADD COLUMN "who_name" text;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "author_name" text;--> statement-breakpoint
ALTER TABLE "steps_done" ADD COLUMN "who_name" text;--> statement-breakpoint
CREATE INDEX "callers_heard" ON "callers" USING btree ("last_heard_at");
--> statement-breakpoint
-- Earlier versions took the word constructor as an id and could then not read the site again, since every object has something of that name. Where it stands as an
-- id it is renamed, in every revision and in what follows from them.
UPDATE "revisions" SET "document" = regexp_replace("document"::text, '(?<!\\)"constructor(?=[".])', '"constructor-1', 'g')::jsonb WHERE "document"::text ~ '(?<!\\)"constructor(?=[".])';--> statement-breakpoint
UPDATE "revisions" SET "patches" = regexp_replace("patches"::text, '(?<!\\)"constructor(?=[".])', '"constructor-1', 'g')::jsonb WHERE "patches"::text ~ '(?<!\\)"constructor(?=[".])';--> statement-breakpoint
UPDATE "revisions" SET "inverse" = regexp_replace("inverse"::text, '(?<!\\)"constructor(?=[".])', '"constructor-1', 'g')::jsonb WHERE "inverse"::text ~ '(?<!\\)"constructor(?=[".])';--> statement-breakpoint
UPDATE "inventory" SET "device_id" = 'constructor-1' WHERE "device_id" = 'constructor';--> statement-breakpoint
UPDATE "device_states" SET "device_id" = 'constructor-1' WHERE "device_id" = 'constructor';--> statement-breakpoint
UPDATE "device_events" SET "device_id" = 'constructor-1' WHERE "device_id" = 'constructor';--> statement-breakpoint
UPDATE "device_commands" SET "device_id" = 'constructor-1' WHERE "device_id" = 'constructor';--> statement-breakpoint
UPDATE "prefixes" SET "entity_id" = 'constructor-1' WHERE "entity_id" = 'constructor';--> statement-breakpoint
UPDATE "steps_done" SET "step_id" = regexp_replace("step_id", '^constructor(?=\.)', 'constructor-1') WHERE "step_id" LIKE 'constructor.%';--> statement-breakpoint
UPDATE "evidence" SET "step_id" = regexp_replace("step_id", '^constructor(?=\.)', 'constructor-1') WHERE "step_id" LIKE 'constructor.%';
