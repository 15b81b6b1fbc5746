ALTER TABLE "revisions" ADD COLUMN "version" integer;--> statement-breakpoint
UPDATE "revisions" SET "version" = ("document"->>'version')::integer;--> statement-breakpoint
ALTER TABLE "revisions" ALTER COLUMN "version" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "revisions" ALTER COLUMN "document" DROP NOT NULL;
