ALTER TABLE `measurements` ADD `removed_at` text;--> statement-breakpoint
ALTER TABLE `studies` ADD `removed_at` text;