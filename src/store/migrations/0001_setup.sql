CREATE TABLE `own_modes` (
	`id` text PRIMARY KEY NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
ALTER TABLE `rigs` ADD `setup` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `studies` ADD `demands` text DEFAULT '[]' NOT NULL;