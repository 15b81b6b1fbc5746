CREATE TABLE "accounts" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"password_hash" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "device_commands" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"site_id" text NOT NULL,
	"device_id" text NOT NULL,
	"command" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"done_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "device_events" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"site_id" text NOT NULL,
	"device_id" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"event" text NOT NULL,
	"from_state" text NOT NULL,
	"to_state" text NOT NULL,
	"detail" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "device_states" (
	"site_id" text NOT NULL,
	"device_id" text NOT NULL,
	"state" text DEFAULT 'planned' NOT NULL,
	"claimed_serial" text,
	"claim_secret_digest" text,
	"token_hash" text,
	"sequence" integer DEFAULT 0 NOT NULL,
	"firmware" text,
	"configuration_digest" text,
	"address" "inet",
	"factory_password" boolean,
	"report" jsonb,
	"last_heard_at" timestamp with time zone,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "device_states_site_id_device_id_pk" PRIMARY KEY("site_id","device_id"),
	CONSTRAINT "device_states_claimed_serial_unique" UNIQUE("claimed_serial"),
	CONSTRAINT "device_states_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
CREATE TABLE "evidence" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"site_id" text NOT NULL,
	"kind" text NOT NULL,
	"source" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"revision" integer NOT NULL,
	"account_id" uuid,
	"body" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "foreign_devices" (
	"serial" text PRIMARY KEY NOT NULL,
	"hardware_address" "macaddr" NOT NULL,
	"model" text NOT NULL,
	"firmware" text NOT NULL,
	"address" "inet" NOT NULL,
	"claim_secret_digest" text NOT NULL,
	"first_heard_at" timestamp with time zone DEFAULT now() NOT NULL,
	"last_heard_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "inventory" (
	"site_id" text NOT NULL,
	"device_id" text NOT NULL,
	"name" text NOT NULL,
	"profile_id" text NOT NULL,
	"serial" text,
	"hardware_address" "macaddr",
	CONSTRAINT "inventory_site_id_device_id_pk" PRIMARY KEY("site_id","device_id")
);
--> statement-breakpoint
CREATE TABLE "log" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"site_id" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"account_id" uuid,
	"what" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "members" (
	"site_id" text NOT NULL,
	"account_id" uuid NOT NULL,
	"role" text NOT NULL,
	CONSTRAINT "members_site_id_account_id_pk" PRIMARY KEY("site_id","account_id")
);
--> statement-breakpoint
CREATE TABLE "revisions" (
	"site_id" text NOT NULL,
	"number" integer NOT NULL,
	"document" jsonb NOT NULL,
	"patches" jsonb NOT NULL,
	"inverse" jsonb NOT NULL,
	"summary" text NOT NULL,
	"author_id" uuid,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "revisions_site_id_number_pk" PRIMARY KEY("site_id","number")
);
--> statement-breakpoint
CREATE TABLE "secrets" (
	"site_id" text NOT NULL,
	"ref" text NOT NULL,
	"sealed" "bytea" NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "secrets_site_id_ref_pk" PRIMARY KEY("site_id","ref")
);
--> statement-breakpoint
CREATE TABLE "sessions" (
	"token_hash" text PRIMARY KEY NOT NULL,
	"account_id" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"expires_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sites" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"head" integer DEFAULT 0 NOT NULL,
	"clock_speed" real DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "steps_done" (
	"site_id" text NOT NULL,
	"step_id" text NOT NULL,
	"done_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ready_at" timestamp with time zone DEFAULT now() NOT NULL,
	"account_id" uuid,
	"note" text DEFAULT '' NOT NULL,
	CONSTRAINT "steps_done_site_id_step_id_pk" PRIMARY KEY("site_id","step_id")
);
--> statement-breakpoint
ALTER TABLE "device_commands" ADD CONSTRAINT "device_commands_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "device_events" ADD CONSTRAINT "device_events_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "device_states" ADD CONSTRAINT "device_states_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "evidence" ADD CONSTRAINT "evidence_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "evidence" ADD CONSTRAINT "evidence_account_id_accounts_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."accounts"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inventory" ADD CONSTRAINT "inventory_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "log" ADD CONSTRAINT "log_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "log" ADD CONSTRAINT "log_account_id_accounts_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."accounts"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "members" ADD CONSTRAINT "members_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "members" ADD CONSTRAINT "members_account_id_accounts_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."accounts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "revisions" ADD CONSTRAINT "revisions_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "revisions" ADD CONSTRAINT "revisions_author_id_accounts_id_fk" FOREIGN KEY ("author_id") REFERENCES "public"."accounts"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "secrets" ADD CONSTRAINT "secrets_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sessions" ADD CONSTRAINT "sessions_account_id_accounts_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."accounts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "steps_done" ADD CONSTRAINT "steps_done_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "steps_done" ADD CONSTRAINT "steps_done_account_id_accounts_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."accounts"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "accounts_name" ON "accounts" USING btree (lower("name"));--> statement-breakpoint
CREATE INDEX "device_commands_open" ON "device_commands" USING btree ("site_id","device_id") WHERE done_at is null;--> statement-breakpoint
CREATE INDEX "device_events_site" ON "device_events" USING btree ("site_id","id");--> statement-breakpoint
CREATE INDEX "device_states_heard" ON "device_states" USING btree ("last_heard_at");--> statement-breakpoint
CREATE INDEX "evidence_site" ON "evidence" USING btree ("site_id","kind","at");--> statement-breakpoint
CREATE INDEX "inventory_serial" ON "inventory" USING btree ("serial");--> statement-breakpoint
CREATE INDEX "inventory_hardware_address" ON "inventory" USING btree ("hardware_address");--> statement-breakpoint
CREATE INDEX "log_site" ON "log" USING btree ("site_id","id");