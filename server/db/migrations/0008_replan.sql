ALTER TABLE "sites" ADD COLUMN "replan_minute" integer;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "time_zone" text;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "replanned_on" text;