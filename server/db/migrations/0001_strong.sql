CREATE TABLE "invitations" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"token_hash" text NOT NULL,
	"site_id" text NOT NULL,
	"role" text NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"invited_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	CONSTRAINT "invitations_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
CREATE TABLE "tries" (
	"key" text PRIMARY KEY NOT NULL,
	"points" integer DEFAULT 0 NOT NULL,
	"expire" bigint
);
--> statement-breakpoint
ALTER TABLE "log" DROP CONSTRAINT "log_site_id_sites_id_fk";
--> statement-breakpoint
ALTER TABLE "log" DROP CONSTRAINT "log_account_id_accounts_id_fk";
--> statement-breakpoint
ALTER TABLE "log" ALTER COLUMN "site_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "evidence" ADD COLUMN "step_id" text;--> statement-breakpoint
ALTER TABLE "evidence" ADD COLUMN "file" "bytea";--> statement-breakpoint
ALTER TABLE "evidence" ADD COLUMN "media_type" text;--> statement-breakpoint
ALTER TABLE "log" ADD COLUMN "who" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "log" ADD COLUMN "previous" "bytea" DEFAULT ''::bytea NOT NULL;--> statement-breakpoint
ALTER TABLE "log" ADD COLUMN "digest" "bytea" DEFAULT ''::bytea NOT NULL;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "change_id" uuid;--> statement-breakpoint
ALTER TABLE "sessions" ADD COLUMN "id" uuid DEFAULT gen_random_uuid() NOT NULL;--> statement-breakpoint
ALTER TABLE "sessions" ADD COLUMN "agent" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "sessions" ADD COLUMN "last_seen_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "secrets_version" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "invitations" ADD CONSTRAINT "invitations_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitations" ADD CONSTRAINT "invitations_invited_by_accounts_id_fk" FOREIGN KEY ("invited_by") REFERENCES "public"."accounts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "invitations_site" ON "invitations" USING btree ("site_id");--> statement-breakpoint
CREATE UNIQUE INDEX "revisions_change" ON "revisions" USING btree ("site_id","change_id");--> statement-breakpoint
ALTER TABLE "sessions" ADD CONSTRAINT "sessions_id_unique" UNIQUE("id");
--> statement-breakpoint
-- Every row of the log carries the digest of itself and of the row before it in its site, as SHA-256 over JSON. Rows are numbered under a lock,
-- so that the chain has the order of the numbers.
CREATE FUNCTION "log_digest"("row" "log") RETURNS bytea LANGUAGE sql STABLE AS $$
	SELECT sha256("row"."previous" || convert_to(json_build_array("row"."id", "row"."site_id", extract(epoch from "row"."at")::text, "row"."account_id", "row"."who", "row"."what")::text, 'UTF8'))
$$;
--> statement-breakpoint
CREATE FUNCTION "log_seal"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	PERFORM pg_advisory_xact_lock(7350002, hashtext(coalesce(NEW.site_id, '')));
	NEW.id := nextval('log_id_seq');
	NEW.at := clock_timestamp();
	NEW.who := coalesce((SELECT name FROM accounts WHERE accounts.id = NEW.account_id), NEW.who);
	NEW.previous := coalesce((SELECT digest FROM log WHERE site_id IS NOT DISTINCT FROM NEW.site_id ORDER BY id DESC LIMIT 1), ''::bytea);
	NEW.digest := log_digest(NEW);
	RETURN NEW;
END $$;
--> statement-breakpoint
CREATE FUNCTION "log_is_written_once"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	RAISE EXCEPTION 'the log is written once: its rows cannot be changed or removed';
END $$;
--> statement-breakpoint
-- What was logged before there was a chain gets its place in it.
DO $$
DECLARE r log;
BEGIN
	FOR r IN SELECT * FROM log ORDER BY id LOOP
		r.who := coalesce((SELECT name FROM accounts WHERE accounts.id = r.account_id), '');
		r.previous := coalesce((SELECT digest FROM log WHERE site_id IS NOT DISTINCT FROM r.site_id AND id < r.id ORDER BY id DESC LIMIT 1), ''::bytea);
		UPDATE log SET who = r.who, previous = r.previous, digest = log_digest(r) WHERE id = r.id;
	END LOOP;
END $$;
--> statement-breakpoint
CREATE TRIGGER "log_seal" BEFORE INSERT ON "log" FOR EACH ROW EXECUTE FUNCTION "log_seal"();
--> statement-breakpoint
CREATE TRIGGER "log_rows_stay" BEFORE UPDATE OR DELETE ON "log" FOR EACH ROW EXECUTE FUNCTION "log_is_written_once"();
--> statement-breakpoint
CREATE TRIGGER "log_stays" BEFORE TRUNCATE ON "log" FOR EACH STATEMENT EXECUTE FUNCTION "log_is_written_once"();
--> statement-breakpoint
-- The first row of a site's log that does not fit its chain, or null where all do.
CREATE FUNCTION "log_broken_at"("of_site" text) RETURNS bigint LANGUAGE sql STABLE AS $$
	SELECT min(id) FROM (
		SELECT log.id, log.previous = lag(log.digest, 1, ''::bytea) OVER (ORDER BY log.id) AS follows, log.digest = log_digest(log.*) AS is_own
		FROM log WHERE site_id IS NOT DISTINCT FROM "of_site"
	) AS checked WHERE NOT follows OR NOT is_own
$$;
